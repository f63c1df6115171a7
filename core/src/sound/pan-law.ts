/** How loud the middle is against one side: −3.01, −6.02 or −4.5 dB. Common practice. */
export const PAN_LAWS = ['constant power', 'linear', 'compromise'] as const;
export type PanLaw = (typeof PAN_LAWS)[number];

/** Gains of left and right for one channel at a position from −1 (left) to 1 (right). */
export function panGains(law: PanLaw, position: number): readonly [left: number, right: number] {
  const at = (Math.max(-1, Math.min(1, position)) + 1) / 2;
  const linear = [1 - at, at] as const;
  // At the very sides a cosine leaves a rest of 6e-17.
  const power = at === 0 || at === 1 ? linear : ([Math.cos((at * Math.PI) / 2), Math.sin((at * Math.PI) / 2)] as const);
  if (law === 'linear') return linear;
  if (law === 'constant power') return power;
  return [Math.sqrt(linear[0] * power[0]), Math.sqrt(linear[1] * power[1])];
}

/** Gains of left and right for two channels: towards one side the other gets quieter, and in the middle both stay as they are. */
export const balanceGains = (position: number): readonly [left: number, right: number] => [
  Math.min(1, 1 - position),
  Math.min(1, 1 + position),
];
