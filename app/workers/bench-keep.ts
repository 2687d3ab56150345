/** Keeps the stand-in bench's flash and configuration over page reloads, as real hardware keeps them without power. */
import type {SettingValues} from '@core/link/setting-shapes';
import Dexie, {type Table} from 'dexie';
import type {ControllerIdentity, WireConfig} from '@core/link/operations';
import {chips} from '@core/firmware/chips';
import type {Road} from '@core/link/operations';
import type {BenchId} from './bench-control';

interface KeptPage {
  readonly id: string;
  readonly output: number;
  readonly page: number;
  readonly bytes: Uint8Array;
}

/** What the flight controller's flash holds. */
interface KeptLoader {
  readonly application: Uint8Array;
  readonly isActive: boolean;
}

interface Keepable {
  readonly escs: readonly {
    readonly flash: Uint8Array;
    readonly hardware: {readonly chip: keyof typeof chips};
  }[];
  readonly controller: {
    readonly identity: ControllerIdentity;
    readonly saved: WireConfig;
    readonly settings?: SettingValues | undefined;
    readonly loader: KeptLoader;
  };
  readonly batteryOn: boolean;
  readonly cycles: number;
  readonly road: Road;
}

export class BenchKeep extends Dexie {
  private readonly pages!: Table<KeptPage, string>;
  private readonly values!: Table<{key: string; value: unknown}, string>;

  /** @param bench which of the benches; the first one has no suffix. */
  constructor(bench: BenchId) {
    super(bench === 'juniper' ? 'bidex-simulated-bench' : `bidex-simulated-bench-${bench}`);
    this.version(1).stores({pages: 'id', values: 'key'});
  }

  putPage(output: number, page: number, bytes: Uint8Array): void {
    void this.pages.put({id: `${output}:${page}`, output, page, bytes});
  }

  async put(key: string, value: unknown): Promise<void> {
    await this.values.put({key, value});
  }

  async get<T>(key: string): Promise<T | undefined> {
    return (await this.values.get(key))?.value as T | undefined;
  }

  async clear(): Promise<void> {
    await Promise.all([this.pages.clear(), this.values.clear()]);
  }

  /** `first` with everything kept laid over it. */
  async restore<T extends Keepable>(first: T): Promise<T> {
    for (const {output, page, bytes} of await this.pages.toArray()) {
      const esc = first.escs[output];
      esc?.flash.set(bytes, page * chips[esc.hardware.chip].pageBytes);
    }
    const saved = (await this.get<WireConfig>('controller')) ?? first.controller.saved;
    const settings = (await this.get<SettingValues>('settings')) ?? first.controller.settings;
    const serial = (await this.get<string>('serial')) ?? first.controller.identity.serial;
    const loader = (await this.get<KeptLoader>('loader')) ?? first.controller.loader;
    const power = (await this.get<{on: boolean; cycles: number}>('power')) ?? {
      on: first.batteryOn,
      cycles: first.cycles,
    };
    const road = (await this.get<Road>('road')) ?? first.road;
    return {
      ...first,
      controller: {...first.controller, saved, settings, loader, identity: {...first.controller.identity, serial}},
      batteryOn: power.on,
      cycles: power.cycles,
      road,
    };
  }
}
