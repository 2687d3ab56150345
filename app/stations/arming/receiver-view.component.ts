import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {SelectFieldComponent} from '../../shared/select-field.component';
import {sticks} from '@core/sheets/arming/receiver';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {StandInStore} from '../../state/stand-in.store';
import {ChannelStripComponent} from './channel-strip.component';
import {ReceiverStore} from './receiver.store';

/** What comes from the transmitter: channel order from four moves, ends and centre from sweeps, frames and their gaps. */
@Component({
  selector: 'bx-receiver-view',
  imports: [SelectFieldComponent, ChannelStripComponent, NumberFieldComponent],
  providers: [ReceiverStore],
  templateUrl: './receiver-view.component.html',
  styleUrl: './arming-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReceiverViewComponent {
  protected readonly receiver = inject(ReceiverStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly sticks = sticks;
}
