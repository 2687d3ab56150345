/** One of several, as a list shows it. */
export interface Choice<T> {
  readonly label: string;
  readonly value: T;
}
