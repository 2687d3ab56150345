/** A flight of one craft: kept with it, or shipped with the demo for the craft it was computed for. */
import type {ControllerConfig} from '../controller/plan';
import type {SettingValues} from '../link/setting-shapes';
import type {Mapping} from './mapping';
import type {Noted} from './noted';

export interface Flight {
  readonly id: string;
  readonly craftId: string;
  /** Goes to the sign-off sheet. */
  readonly label: string;
  readonly isDemo: boolean;
  /** When it was kept, epoch ms; 0 for one of the demo. */
  readonly keptAt: number;
  /** What had been read from the controller when it was kept. */
  readonly config?: ControllerConfig | undefined;
  /** Everything else that it held then, by the keys of its own description. */
  readonly settings?: SettingValues | undefined;
  readonly mapping?: Mapping | undefined;
  readonly notes?: string | undefined;
  /** What a person measured on it. */
  readonly noted?: Noted | undefined;
}
