/** What a craft is, in a few words: "5-inch quad, props out"; a loose ESC has no propellers. */
interface Kind {
  readonly kind: string;
  readonly props: 'in' | 'out';
  readonly loose?: boolean | undefined;
}

export const kindText = ({kind, props, loose}: Kind): string => (loose ? kind : `${kind}, props ${props}`);
