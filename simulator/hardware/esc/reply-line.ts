/** The replies of one output, loop by loop: which came, what became of the others, and how that is counted. */
import type {LossKind} from '@core/replies/reply-quality';
import type {Random} from '../../random';

/** Chance that a reply is lost, 0…1: nobody answered in time, or what came was spoilt. */
export interface LossChance {
  readonly silent: number;
  readonly spoilt: number;
}

/** One that was lost: which of the loops counted together. */
export interface LostReply {
  readonly loop: number;
  readonly kind: LossKind;
}

/** Of spoilt replies: a group of bits that stands for nothing, a checksum that is not right, an edge so wrong that none was seen. */
const spoiltShares: readonly (readonly [LossKind, number])[] = [
  ['code', 0.5],
  ['checksum', 0.3],
  ['missing', 0.2],
];

export class ReplyLine {
  asked = 0;
  readonly lostAs: Record<LossKind, number> = {missing: 0, code: 0, checksum: 0};
  private run = 0;
  private longest = 0;
  private newestMs = 0;

  constructor(private readonly random: Random) {}

  get lost(): number {
    return this.lostAs.missing + this.lostAs.code + this.lostAs.checksum;
  }

  /** Longest run of lost ones since this was told last. */
  tellRun(): number {
    const run = Math.max(this.longest, this.run);
    this.longest = 0;
    return run;
  }

  /** Age of the newest good reply, ms. */
  ageMs(now: number): number {
    return Math.max(0, now - this.newestMs);
  }

  /** Counts so many loops, the last of which began at `now`, ms. */
  take(loops: number, {silent, spoilt}: LossChance, {now, loopMs}: {readonly now: number; readonly loopMs: number}) {
    this.asked += loops;
    const lost = this.draw(loops, {silent, spoilt});
    let next = 0;
    for (const {loop, kind} of lost) {
      this.lostAs[kind]++;
      if (loop > next) this.run = 0;
      this.longest = Math.max(this.longest, ++this.run);
      next = loop + 1;
    }
    if (next < loops) this.run = 0;
    let good = loops - 1;
    for (let i = lost.length - 1; i >= 0 && lost[i]!.loop === good; i--) good--;
    if (good >= 0) this.newestMs = now - (loops - 1 - good) * loopMs;
    return lost;
  }

  /** Which are lost; skips from one to the next, since mostly there are few. */
  private draw(loops: number, {silent, spoilt}: LossChance): LostReply[] {
    const chance = Math.min(1, 1 - (1 - silent) * (1 - spoilt));
    if (chance <= 0) return [];
    const lost: LostReply[] = [];
    const gap = () => (chance >= 1 ? 0 : Math.floor(Math.log(1 - this.random.next()) / Math.log(1 - chance)));
    for (let loop = gap(); loop < loops; loop += 1 + gap())
      lost.push({loop, kind: this.random.next() * chance < silent ? 'missing' : this.spoiltAs()});
    return lost;
  }

  private spoiltAs(): LossKind {
    let left = this.random.next();
    return spoiltShares.find(([, share]) => (left -= share) < 0)?.[0] ?? 'missing';
  }
}
