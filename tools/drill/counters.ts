/** What a drill counts. Everything in the report must be zero. */

export const counterNames = [
  'bricked',
  'wrongImageRun',
  'settingsLost',
  'untrueAccounts',
  'unresolved',
  'turnedAfterStop',
  'orphanedWriters',
  'overwrittenUnseen',
  'emptyProofs',
  'falseProofs',
  'lostRecords',
  'rolledBackWrong',
] as const;
type CounterName = (typeof counterNames)[number];

/**
 * - bricked: ESCs whose bootloader was harmed or that no longer answer.
 * - wrongImageRun: ESCs that ran an image for another bridge, or orders that took one.
 * - settingsLost: ESCs whose settings of before can be had nowhere, or that miss the new ones after a finished order.
 * - untrueAccounts: times the journal and the simulator's flash disagreed.
 * - unresolved: orders that neither finished nor ended with something worn isolated and the others done.
 * - turnedAfterStop: motors commanded to turn after their hold had ended.
 * - orphanedWriters: requests that change hardware and came after the order had said that it ended.
 * - overwrittenUnseen: settings that someone put there meanwhile and that are gone without a snapshot.
 * - emptyProofs: proofs that hold and were taken on nothing.
 * - falseProofs: proofs that are current, or were read again since, while the simulator's truth is another one than when they were taken.
 * - lostRecords: something a person entered or proved that is gone from the store without a word.
 * - rolledBackWrong: rolled-back craft that differ from before in something the order did not name.
 */
export type Counters = Record<CounterName, number>;

export const zeroCounters = (): Counters => Object.fromEntries(counterNames.map((name) => [name, 0])) as Counters;
export const sumOf = (c: Counters): number => counterNames.reduce((sum, name) => sum + c[name], 0);

/** What shows that the mishaps did hit, and where to look when something is not zero. */
export interface DrillNotes {
  /** Times an order stopped and was resumed. */
  interruptions: number;
  /** Orders that ended with something worn isolated. */
  isolated: number;
  rolledBack: number;
  /** Holds that turned motors. */
  holds: number;
  /** Times a resumed order stopped for something that was changed meanwhile. */
  asked: number;
  /** Orders that the bench had overtaken and that gave way to a new one. */
  renewed: number;
  /** Times a proof contradicted a step, which was opened again. */
  reopened: number;
  /** Requests that an adapter carried out a second time, seconds late. */
  repeated: number;
  /** Times the store failed. */
  storeFaults: number;
  /** Times it was deleted in the middle of an order. */
  emptied: number;
  /** Times someone changed something on a proven craft, and proofs that were no longer valid for it. */
  meddlings: number;
  takenBack: number;
  /** Measurements that a person made over the link, and those whose proof holds. */
  measured: number;
  held: number;
  /** Times a record could not be read or written. */
  recordFaults: number;
}
export const zeroNotes = (): DrillNotes => ({
  interruptions: 0,
  isolated: 0,
  rolledBack: 0,
  holds: 0,
  asked: 0,
  renewed: 0,
  reopened: 0,
  repeated: 0,
  storeFaults: 0,
  emptied: 0,
  meddlings: 0,
  takenBack: 0,
  measured: 0,
  held: 0,
  recordFaults: 0,
});
