import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {wantedSenses} from '@core/craft/craft';
import {mixerDifferences} from '@core/craft/compare-mixer';
import {mixerAxes, mixerCsv, mixerOf, sticksToMotors, type MixerAxis, type MixerRow} from '@core/craft/mixer';
import {download} from '../../shared/download';
import {RecordStore} from '../../state/record.store';
import {FleetStore} from '../../state/fleet.store';

const axisNames: Readonly<Record<MixerAxis, string>> = {throttle: 'Throttle', roll: 'Roll', pitch: 'Pitch', yaw: 'Yaw'};
const directions: Readonly<Record<MixerAxis, string>> = {
  throttle: 'none to full',
  roll: 'left to right',
  pitch: 'nose down to nose up',
  yaw: 'nose left to nose right',
};
const centred: MixerRow = {throttle: 0.5, roll: 0, pitch: 0, yaw: 0};

/** Mixer of the craft's airframe: what each motor does about each axis, tried with sticks. */
@Component({
  selector: 'bx-mixer',
  template: `
    <div class="cols">
      <div>
        <table class="plain">
          <caption class="quiet">
            How much each motor does, computed from the arms of the Craft station and the direction each must turn,
            props
            {{
              craft().props
            }}. The largest of each column is 1.
          </caption>
          <thead>
            <tr>
              <th>Arm</th>
              <th>must turn</th>
              @for (axis of axes; track axis) {
                <th class="n">{{ names[axis] }}</th>
              }
            </tr>
          </thead>
          <tbody>
            @for (row of mixer().rows; track $index; let m = $index) {
              <tr>
                <td>{{ craft().arms[m]!.name }}</td>
                <td>{{ senses()[m] }}</td>
                @for (axis of axes; track axis) {
                  <td class="n">{{ signed(row[axis]) }}</td>
                }
              </tr>
            }
            <tr class="sum">
              <td colspan="2">lever that is left to it</td>
              <td class="n">–</td>
              <td class="n">{{ mixer().authority.roll.toFixed(0) }} mm</td>
              <td class="n">{{ mixer().authority.pitch.toFixed(0) }} mm</td>
              <td class="n">{{ (mixer().authority.yaw * 100).toFixed(0) }} %</td>
            </tr>
          </tbody>
        </table>
        <p><button type="button" class="link" (click)="save()">Save as CSV</button></p>
        @if (held(); as held) {
          @if (held.length) {
            <div class="gate bad">
              <b>The flight controller holds another mixer</b>
              @for (difference of held; track $index) {
                <div>{{ difference.text }}</div>
              }
              Outputs and rotation direction follow the plan with the work order; a mixer of its own must be set for
              this airframe.
            </div>
          } @else {
            <p><span class="tag ok">✓ agrees</span> The mixer that the flight controller holds is this one.</p>
          }
        } @else {
          <p class="quiet">
            The mixer of the flight controller has not been read yet, or it has none for these outputs.
          </p>
        }
        @for (axis of mixer().useless; track axis) {
          <div class="gate bad">
            <b>No {{ axis }}</b> The motors cannot turn this craft about {{ axis }} without turning it about another
            axis: it could not be flown. Check the arm positions and which way each must turn on the Craft station.
          </div>
        }
      </div>
      <div>
        <h2>Move the sticks</h2>
        @for (axis of axes; track axis) {
          <label>
            <span
              >{{ names[axis] }} <small class="quiet">{{ directions[axis] }}</small></span
            >
            <input
              type="range"
              [min]="axis === 'throttle' ? 0 : -100"
              max="100"
              step="5"
              [value]="sticks()[axis] * 100"
              [attr.aria-valuetext]="(sticks()[axis] * 100).toFixed(0) + ' %'"
              (input)="move(axis, $event)"
            />
            <span class="n">{{ (sticks()[axis] * 100).toFixed(0) }} %</span>
          </label>
        }
        <p><button type="button" class="link" (click)="sticks.set(centred)">Let the sticks go</button></p>
        <svg viewBox="-120 -120 240 240" role="img" [attr.aria-label]="spoken()">
          @for (arm of placed(); track $index; let m = $index) {
            <line x1="0" y1="0" [attr.x2]="arm.x" [attr.y2]="arm.y" class="arm" />
            <circle [attr.cx]="arm.x" [attr.cy]="arm.y" r="26" class="ring" />
            <circle [attr.cx]="arm.x" [attr.cy]="arm.y" [attr.r]="26 * root(throttles()[m]!)" class="fill" />
            <text [attr.x]="arm.x" [attr.y]="arm.y + 5">{{ (throttles()[m]! * 100).toFixed(0) }}</text>
          }
          <path d="M-9 8 L0 -12 L9 8 Z" class="nose" />
        </svg>
        <p class="quiet">The figure at each arm is that motor's throttle in percent; the arrow is the nose.</p>
      </div>
    </div>
  `,
  styles: `
    .cols {
      display: grid;
      grid-template-columns: minmax(480px, 1.35fr) minmax(300px, 1fr);
      gap: var(--s8);
    }
    caption {
      text-align: left;
      font-size: var(--fs-small);
    }
    th.n,
    td.n {
      text-align: right;
    }
    th.n {
      font-family: var(--sans);
    }
    .sum td {
      border-top: 1px solid var(--ink-3);
    }
    label {
      display: grid;
      grid-template-columns: 150px minmax(0, 1fr) 60px;
      gap: var(--s4);
      align-items: center;
      min-height: 36px;
      font-size: var(--fs-body);
    }
    label small {
      display: block;
    }
    label .n {
      text-align: right;
    }
    input {
      accent-color: var(--petrol);
      min-height: 32px;
    }
    svg {
      display: block;
      width: 100%;
      max-height: 290px;
    }
    .arm {
      stroke: var(--ink-3);
      stroke-width: 2;
    }
    .ring {
      fill: var(--paper);
      stroke: var(--ink-2);
    }
    .fill {
      fill: var(--petrol-soft);
      stroke: var(--petrol);
    }
    .nose {
      fill: var(--ink);
    }
    text {
      text-anchor: middle;
      font: 600 var(--fs-body) var(--mono);
      fill: var(--ink);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MixerComponent {
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  protected readonly axes = mixerAxes;
  protected readonly names = axisNames;
  protected readonly directions = directions;
  protected readonly centred = centred;
  protected readonly root = Math.sqrt;

  protected readonly craft = computed(() => this.fleet.current()!);
  protected readonly senses = computed(() => wantedSenses(this.craft()));
  protected readonly mixer = computed(() => mixerOf(this.craft().arms, this.senses()));
  /** Where the held mixer differs; undefined where there is none to compare. */
  protected readonly held = computed(() => {
    const controller = this.record.found()?.controller;
    if (!controller?.mixer) return undefined;
    return mixerDifferences(controller.mixer, {mixer: this.mixer(), arms: this.craft().plan.controller.arms});
  });
  protected readonly sticks = signal<MixerRow>(centred);
  protected readonly throttles = computed(() => sticksToMotors(this.mixer(), this.sticks()));
  protected readonly placed = computed(() => {
    const {arms} = this.craft();
    const reach = Math.max(1, ...arms.map((a) => Math.max(Math.abs(a.xMm), Math.abs(a.yMm))));
    return arms.map((a) => ({x: (a.xMm / reach) * 84, y: (-a.yMm / reach) * 84}));
  });
  protected readonly spoken = computed(() =>
    this.craft()
      .arms.map((arm, m) => `${arm.name} ${(this.throttles()[m]! * 100).toFixed(0)} %`)
      .join(', '),
  );

  protected signed(value: number): string {
    const text = Math.abs(value).toFixed(2);
    return (text === '0.00' ? ' ' : value > 0 ? '+' : '−') + text;
  }

  protected move(axis: MixerAxis, event: Event): void {
    const value = (event.target as HTMLInputElement).valueAsNumber / 100;
    this.sticks.update((s) => ({...s, [axis]: value}));
  }

  protected save(): void {
    download(`${this.craft().name.toLowerCase()}-mixer.csv`, mixerCsv(this.mixer(), this.craft().arms), 'text/csv');
  }
}
