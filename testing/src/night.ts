/** The scenes of the demo show's night, in the order in which they are taken. */
export const NIGHT = [
  'Line check',
  'Soundcheck balance',
  'Doors, walk-in music',
  'Night Ferry',
  'Saltmarsh reel',
  'Low tide',
  'Harbour bells',
  'Last lantern',
];

/**
 * One move of the hand that rides two faders all night, up or down by half a decibel; a fader that is shut stays shut.
 * @param levelOf where a fader stands, in dB
 */
export const nextRide = (levelOf: (address: string) => number, up: boolean): Record<string, number> =>
  Object.fromEntries(
    ['in.4/fader/level', 'in.8/fader/level']
      .map((address) => [address, levelOf(address)] as const)
      .filter(([, level]) => level > -60)
      .map(([address, level]) => [address, Math.round(10 * (level + (up ? 0.5 : -0.5))) / 10]),
  );
