/** What a list or a row of buttons offers. */
export interface Choice<T> {
  readonly label: string;
  readonly value: T;
}
