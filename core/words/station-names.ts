/** The stations of the route, in its order, with their titles. */
export const stationNames = [
  'craft',
  'survey',
  'firmware',
  'parameters',
  'spin',
  'signal',
  'arming',
  'noise',
  'sign-off',
] as const;
export type StationName = (typeof stationNames)[number];

export const stationTitles: Readonly<Record<StationName, string>> = {
  craft: 'Craft',
  survey: 'Survey',
  firmware: 'Firmware',
  parameters: 'Parameters',
  spin: 'Spin',
  signal: 'Signal',
  arming: 'Arming',
  noise: 'Noise',
  'sign-off': 'Sign-off',
};
