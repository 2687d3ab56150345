/** What the button says that opens the port. */
export const connectText = (isStandIn: boolean): string =>
  isStandIn ? 'Connect the simulated bench' : 'Connect the bench';
