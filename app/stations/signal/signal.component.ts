import {ChangeDetectionStrategy, Component, effect, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {BenchStore} from '../../state/bench.store';
import {FileInbox} from '../../state/file-inbox';
import {KeptStations} from '../../shared/kept-stations';
import {BudgetViewComponent} from './budget-view.component';
import {CapturesViewComponent} from './captures/captures-view.component';
import {FrameDeskComponent} from './captures/frame-desk.component';
import {PolesViewComponent} from './poles-view.component';
import {RepliesViewComponent} from './replies-view.component';

type View = 'budget' | 'replies' | 'captures' | 'poles' | 'frame';
const leads: Readonly<Record<View, string>> = {
  budget:
    'The protocol must fit the loop, the chip of the ESC must receive it, and the processor must have time for both.',
  replies:
    'No reply may be lost: not at idle, not when all motors spin up. A jumping figure or 100 % has a cause; look for it here.',
  captures:
    'The wire itself, from the file of any logic analyser: every command and reply with a verdict, faults first.',
  poles:
    'Replies count electrical turns: with a wrong count of magnets every speed and every notch is off by the same share.',
  frame: 'One command and its reply, bit by bit and to scale; and bits from elsewhere, read back.',
};

/** Signal station: which protocol can work, replies under load, and the wire itself. */
@Component({
  selector: 'bx-signal',
  imports: [
    BudgetViewComponent,
    CapturesViewComponent,
    FormsModule,
    FrameDeskComponent,
    PolesViewComponent,
    RepliesViewComponent,
    SelectButton,
  ],
  templateUrl: './signal.component.html',
  styleUrl: './signal.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignalComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly leads = leads;
  protected readonly views: {label: string; value: View}[] = [
    {label: 'Budget', value: 'budget'},
    {label: 'Replies', value: 'replies'},
    {label: 'Captures', value: 'captures'},
    {label: 'Poles', value: 'poles'},
    {label: 'Frame desk', value: 'frame'},
  ];
  protected readonly view = signal<View>('budget');
  private readonly inbox = inject(FileInbox);

  constructor() {
    // A capture that was dropped is looked at where captures are.
    effect(() => {
      if (this.inbox.has('capture')) this.view.set('captures');
    });
    const stations = inject(KeptStations);
    effect(() => stations.mayKeep('signal', this.view() === 'budget'));
  }
}
