import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import {ButtonsFieldComponent} from '../../../shared/buttons-field.component';
import type {Frame} from '@core/capture/decode/frames';
import {ChartComponent} from '../../../charts/chart.component';
import {download} from '../../../shared/download';
import {ProblemComponent} from '../../../shared/problem.component';
import {BenchStore} from '../../../state/bench.store';
import {CaptureStore, recordingMs} from '../../../state/capture.store';
import {pickedFiles} from '../../../shared/picked-files';
import {FileInbox} from '../../../state/file-inbox';
import {FleetStore} from '../../../state/fleet.store';
import {StandInStore} from '../../../state/stand-in.store';
import type {CountedReplies} from '@core/capture/read/recording';
import type {WireSummary} from '../../../workers/capture.worker';
import {lengthsOption, speedsOption} from './capture-charts';
import {FrameTableComponent} from './frame-table.component';
import {SignalFindingsComponent} from '../signal-findings.component';
import {TimelineComponent, type TimelineName, type TimelineSource} from './timeline.component';
import {grouped} from '@core/words/grouped';
import {percent} from '@core/words/percent';

/** Other names of a wire that are told. */
const maxNames = 2;

/** Wires that a timeline shows at once. */
const maxLanes = 8;
/** So many wires are listed whatever they carry. */
const fewWires = 12;

/** A logic analyser's file: its wires, what they carry, frame by frame and over time. */
@Component({
  selector: 'bx-captures-view',
  imports: [
    ButtonsFieldComponent,
    ChartComponent,
    FrameTableComponent,
    ProblemComponent,
    SignalFindingsComponent,
    TimelineComponent,
  ],
  templateUrl: './captures-view.component.html',
  styleUrl: './captures-view.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CapturesViewComponent {
  protected readonly captures = inject(CaptureStore);
  protected readonly fleet = inject(FleetStore);
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  private readonly inbox = inject(FileInbox);
  private readonly timeline = viewChild(TimelineComponent);

  protected readonly readAs = [
    {value: false, label: 'speeds'},
    {value: true, label: 'extended'},
  ];
  protected readonly recordingMs = recordingMs;
  protected readonly percent = percent;
  protected readonly allFaults = signal(false);
  protected readonly allWires = signal(false);
  /** Of a dump of many wires those that carry something, unless all are asked for. */
  protected readonly listed = computed(() => {
    const lines = (this.captures.summary()?.wires ?? []).map((wire, i) => ({wire, i}));
    const carrying = lines.filter(({wire, i}) => wire.commands > 0 || i === this.captures.wire());
    return this.allWires() || lines.length <= fewWires ? lines : carrying;
  });
  protected readonly lanes = computed((): TimelineName[] => {
    const all = this.listed().map(({wire: {name}, i}) => ({wire: i, name: name.split('.').at(-1)!}));
    // The one that is looked at is always among them.
    const own = all.findIndex(({wire}) => wire === this.captures.wire());
    const first = Math.max(0, Math.min(own - maxLanes + 1, all.length - maxLanes));
    return all.slice(first, first + maxLanes);
  });
  protected readonly whole = computed(() => {
    const {from = 0, to = 1} = this.captures.summary() ?? {};
    return {from, to: to > from ? to : from + 1e-3};
  });
  protected readonly ask: TimelineSource = (wires, view) => this.captures.timeline(wires, view);

  protected readonly lengths = computed(() => {
    const [lengths, bitUs] = [this.captures.detail()?.lengths, this.captures.looked()?.bitUs];
    return lengths && lengthsOption(lengths, bitUs ? [(3 / 8) * bitUs, (3 / 4) * bitUs] : []);
  });
  protected readonly speeds = computed(() => {
    const speeds = this.captures.detail()?.speeds;
    return speeds?.t.length ? speedsOption(speeds, this.whole()) : undefined;
  });

  constructor() {
    effect(() => {
      if (this.inbox.has('capture')) untracked(() => this.takeAll(this.inbox.takeAll('capture')));
    });
  }

  protected pickFile(event: Event): void {
    this.takeAll(pickedFiles(event));
  }

  /** The first is opened; the others are listed beside it. */
  private takeAll(files: readonly File[]): void {
    this.captures.remember(files);
    if (files[0]) void this.captures.open(files[0]);
  }

  protected reopen(file: File): void {
    void this.captures.open(file);
  }

  /** The first of the other names; a wire through many modules has one in each. */
  protected alsoText(names: readonly string[]): string {
    const more = names.length - maxNames;
    return `also ${names.slice(0, maxNames).join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
  }

  protected lossText({commands, bidirectional, loss}: WireSummary): string {
    if (!bidirectional) return commands ? 'none due' : '–';
    return loss.lossPercent ? percent(loss.lossPercent / 100) : 'none lost';
  }

  protected countedText({asked, missing, code, checksum}: CountedReplies): string {
    if (!asked) return 'no reply requested';
    return `${this.count(asked)} asked, ${this.count(missing)} missing, ${this.count(code + checksum)} bad`;
  }

  protected rate(error: number | undefined): string {
    if (error === undefined) return '–';
    const text = Math.abs(error).toFixed(2);
    return `${Number(text) === 0 ? '' : error > 0 ? '+' : '−'}${text} %`;
  }

  /** From the table into the timeline. */
  protected show(frame: Frame): void {
    this.captures.pick(frame.row);
    this.timeline()?.show(frame);
  }

  /** From the timeline into the table. */
  protected async picked({wire, frame}: {wire: number; frame: Frame}): Promise<void> {
    if (wire !== this.captures.wire()) await this.captures.choose(wire);
    // Among the faulty ones a right frame is not to be found.
    if (frame.ok) this.captures.setFaultsOnly(false);
    this.captures.pick(frame.row);
  }

  protected async saveCsv(): Promise<void> {
    const csv = await this.captures.csv();
    const wire = this.captures.looked()?.name ?? 'wire';
    if (csv) download(`${wire}.csv`, new Uint8Array(await csv.arrayBuffer()), 'text/csv');
  }

  protected async saveRecording(): Promise<void> {
    const file = this.captures.recording()?.file;
    if (file) download(file.name, new Uint8Array(await file.arrayBuffer()), 'text/plain');
  }

  protected readonly count = grouped;
}
