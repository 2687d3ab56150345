/** Something that takes bytes from outside and must survive any of them. */
export interface FuzzSubject {
  /** Sound inputs that mutations begin with. */
  readonly seeds: readonly Uint8Array[];
  /** Takes one input. Throwing is a fault of ours. */
  readonly take: (input: Uint8Array) => FuzzOutcome | Promise<FuzzOutcome>;
}

interface FuzzOutcome {
  /** Whether the input was refused or had faults: shows that the mutations bite. */
  readonly isFaulty: boolean;
  /** More came out than went in: a trap for memory. */
  readonly tooLarge?: boolean;
}
