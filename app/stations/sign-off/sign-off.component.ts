import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {RouterLink} from '@angular/router';
import {armingFindings} from '@core/compare/rules/arming-findings';
import {standingText, type Standing} from '@core/proof/standing';
import {sightingHolds} from '@core/spin/sighting';
import {twoSides} from '@core/spin/two-sides';
import {stationTitles, type StationName} from '@core/route/stations';
import {standingTag, standingWord} from '../../shared/standing-words';
import {when} from '../../shared/when';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {RouteStore} from '../../state/route.store';

/** How a line stands; "wrong" is what was seen and must not be flown. */
type LineKind = Standing['kind'] | 'wrong';

interface Line {
  readonly name: string;
  readonly station: StationName;
  readonly kind: LineKind;
  readonly text: string;
  /** What happened since it was measured; empty when nothing did. */
  readonly since: string;
  readonly at: number | undefined;
}

const isProvenKind = (kind: LineKind): boolean => kind === 'holds' || kind === 'held';

function proofLine(name: string, station: StationName, s: Standing, none: string): Line {
  const proof = s.kind === 'none' ? undefined : s.proof;
  return {name, station, kind: s.kind, text: proof?.text ?? none, since: standingText(s), at: proof?.at};
}

/** Sign-off: the list of proofs, with what is still open and where to get it. */
@Component({
  selector: 'bx-sign-off',
  imports: [RouterLink],
  templateUrl: './sign-off.component.html',
  styles: `
    table {
      max-width: 1000px;
    }
    .sum {
      font-size: var(--fs-lead);
      padding: var(--s5) 0 var(--s6);
    }
    .when {
      white-space: nowrap;
    }
    td:first-child {
      width: 90px;
    }
    td b {
      font-weight: 600;
    }
    th[scope='rowgroup'] {
      padding-top: var(--s8);
    }
    td small {
      display: block;
    }
    .acts {
      margin-bottom: var(--s5);
    }
    .head {
      display: none;
      font-size: var(--fs-body);
      padding-bottom: var(--s5);
    }
    @media print {
      .head {
        display: block;
      }
      .acts {
        display: none;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignOffComponent {
  protected readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  private readonly route = inject(RouteStore);

  protected readonly word: Readonly<Record<LineKind, string>> = {...standingWord, wrong: '✗ must not fly'};
  protected readonly tag: Readonly<Record<LineKind, string>> = {...standingTag, wrong: 'diff'};

  protected readonly lines = computed((): Line[] => {
    const states = this.route.states()!;
    const {pages, settings, replies, motion, mounting, receiver, failSafe} = this.route.standings()!;
    const found = this.record.found();
    const seen = (name: StationName) => (states[name].state === 'done' ? 'holds' : 'none');
    const lines: Line[] = [
      {
        name: 'Everything answers',
        station: 'survey',
        kind: seen('survey'),
        text: found ? `${found.escs.length} ESCs and the flight controller` : 'No survey yet.',
        since: '',
        at: found?.at,
      },
      proofLine('Same firmware, page by page', 'firmware', pages, 'Pages are compared by the work order.'),
      proofLine('Every setting as planned', 'parameters', settings, 'Settings are read back by the work order.'),
      ...this.spinLines(motion),
      proofLine('No reply lost', 'signal', replies, 'Not measured yet.'),
      proofLine('The board sits as set', 'arming', mounting, 'Nobody has tilted the craft yet.'),
      proofLine('Sticks on their channels, ends right', 'arming', receiver, 'Nobody has moved the sticks yet.'),
      ...(this.fleet.current()!.plan.controller.replies
        ? [
            proofLine(
              'Motors stand without a signal',
              'arming',
              failSafe,
              'Nobody has switched the transmitter off yet.',
            ),
          ]
        : []),
      ...this.switchLine(),
    ];
    return lines.map((line) => {
      // A proof that holds is not enough where the bench was found otherwise after it. Where a station has more lines,
      // each speaks for itself.
      const isOnly = lines.filter((l) => l.station === line.station).length === 1;
      const open = isOnly && states[line.station].state !== 'done' && isProvenKind(line.kind);
      return open ? {...line, kind: 'none', since: `Found otherwise since: ${states[line.station].note}.`} : line;
    });
  });
  /** What sign-off waits for, and under its own title what two flights proved: that comes after sign-off. */
  protected readonly groups = computed((): readonly {readonly title: string; readonly lines: readonly Line[]}[] => {
    const {noise} = this.route.standings()!;
    const waited = {title: '', lines: this.lines()};
    if (noise.kind === 'none') return [waited];
    return [waited, {title: 'Measured in flight', lines: [proofLine('Quieter, by two flights', 'noise', noise, '')]}];
  });
  /** What is computed from a model and not measured on the craft: it proves nothing and is not waited for. */
  protected readonly predicted = computed(() => {
    const noise = this.record.noise();
    if (!noise) return undefined;
    const ridge = noise.ratio === undefined ? 'no clear ridge' : `ridge at ${noise.ratio.toFixed(2)} × motor speed`;
    return {
      text: `${noise.flight}: ${ridge}; with the planned filters ${noise.gainDb.toFixed(1)} dB less from 80 Hz up, ${noise.delayMs === undefined ? 'delay not stated' : `${noise.delayMs.toFixed(2)} ms of delay`}`,
      at: noise.at,
    };
  });
  protected readonly open = computed(() => this.lines().filter((l) => !isProvenKind(l.kind)).length);
  protected readonly held = computed(() => this.lines().filter((l) => l.kind === 'held').length);
  protected readonly titles = stationTitles;

  protected readonly when = when;
  protected readonly printedAt = signal(Date.now());
  protected readonly openNames = computed(() =>
    this.lines()
      .filter((l) => !isProvenKind(l.kind))
      .map((l) => l.name.toLowerCase())
      .join('; '),
  );
  protected readonly controllerLine = computed(() => {
    const identity = this.record.found()?.controller?.identity;
    return identity ? `${identity.board} with ${identity.firmware} ${identity.version}` : 'flight controller not read';
  });

  /** One sheet of paper: the list as it stands, with the craft and the moment. */
  protected print(): void {
    this.printedAt.set(Date.now());
    setTimeout(() => window.print());
  }

  /** Whether what is set and planned may be armed at all. */
  private switchLine(): Line[] {
    const found = this.record.found();
    const refused = armingFindings(this.fleet.current()!, found?.controller?.config).find(
      (f) => f.severity === 'refuse',
    );
    const text = refused
      ? `${refused.meaning} ${refused.remedy}`
      : 'A switch of its own arms it, off at power-up, apart from the others.';
    return [
      {
        name: 'Armed by a switch alone',
        station: 'arming',
        kind: !found?.controller ? 'none' : refused ? 'wrong' : 'holds',
        ...{text, since: '', at: found?.at},
      },
    ];
  }

  /** What Spin proves, line by line with its number. */
  private spinLines(motion: Standing): Line[] {
    const craft = this.fleet.current()!;
    const sightings = this.record.sightings();
    const sides = twoSides(craft, this.record.found(), sightings);
    const rightly = sightings.filter((s) => sightingHolds(s, craft, this.record.found())).length;
    return [
      {
        name: 'Order and rotation',
        station: 'spin',
        kind: rightly === craft.arms.length ? 'holds' : 'none',
        text: sightings.length
          ? `${rightly} of ${craft.arms.length} outputs seen on the planned arm, turning the planned way`
          : 'Nobody has looked yet.',
        since: '',
        at: sightings.at(-1)?.at,
      },
      {
        name: 'Two sides agree',
        station: 'spin',
        kind: sides.kind === 'agree' ? 'holds' : sides.kind === 'would flip' ? 'wrong' : 'none',
        text: sides.text,
        since: '',
        at: sightings.at(-1)?.at,
      },
      ...(craft.plan.controller.replies
        ? [proofLine('Motors alike and plausible', 'spin', motion, 'Hold the motor card on the Spin station.')]
        : []),
    ];
  }
}
