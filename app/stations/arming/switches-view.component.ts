import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {switchAsk} from '@core/sheets/arming/switches';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {StandInStore} from '../../state/stand-in.store';
import {ChannelStripComponent} from './channel-strip.component';
import {CockpitFeed} from './cockpit-feed';
import {SwitchesStore} from './switches.store';

/** What the transmitter's switches do: ranges on a bar, made by moving the switch, and what keeps the craft from being armed. */
@Component({
  selector: 'bx-switches-view',
  imports: [ChannelStripComponent, FormsModule, NumberFieldComponent, SelectButton],
  providers: [SwitchesStore],
  templateUrl: './switches-view.component.html',
  styleUrl: './arming-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SwitchesViewComponent {
  protected readonly switches = inject(SwitchesStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly feed = inject(CockpitFeed);
  protected readonly ask = switchAsk;
  /** Channels of the stand-in's switches, and where each can stand. */
  protected readonly standInSwitches = [5, 6, 7, 8];
  protected readonly positions = [
    {position: -1, label: 'down'},
    {position: 0, label: 'middle'},
    {position: 1, label: 'up'},
  ];
}
