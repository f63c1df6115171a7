import { quantise, type Value } from '@old-echo/core/desk/setting';
import type { WireArgument, WireMessage } from '@old-echo/desk-link/codec';

import type { SimulatedDesk } from './desk';

/** Ways in which desks with a language of their own differ, each switched alone. */
export interface Quirks {
  /** Levels go from 0 to 1 along a fader, not in dB. */
  readonly unitLevels: boolean;
  /** The first row is 00. */
  readonly zeroBased: boolean;
  /** How many steps a level has from end to end; 0 for as many as its profile says. */
  readonly levelSteps: number;
  /** It does not say what its rows are called. */
  readonly keepsNames: boolean;
}

export const NO_QUIRKS: Quirks = { unitLevels: false, zeroBased: false, levelSteps: 0, keepsNames: false };

const [ROWS, OUTS, TONES] = [16, 6, 3] as const;
const [OFF_DB, TOP_DB] = [-90, 10];
/** Where the levels stand along the faders of this desk, from bottom to top. */
const FADER: readonly (readonly [decibels: number, place: number])[] = [
  [OFF_DB, 0],
  [-50, 0.1],
  [-20, 0.4],
  [0, 0.75],
  [TOP_DB, 1],
];
const TONE_HZ = [
  [40, 400],
  [200, 5000],
  [2000, 16_000],
] as const;

/** One argument of one message: what it says of the desk, and what the desk makes of it. */
interface Cell {
  readonly setting: string;
  readonly tell: (value: Value) => WireArgument;
  readonly hear: (argument: WireArgument) => unknown;
}

/**
 * The language of the Weir 16: its messages, and which of its controls each of their arguments is. Written down by itself, and not from
 * the map that ships with it, so that one can be held against the other.
 */
export class WeirScheme {
  private readonly messages = new Map<string, readonly Cell[]>();
  private readonly addressOf = new Map<string, string>();

  constructor(
    private readonly desk: SimulatedDesk,
    private readonly quirks: Quirks,
  ) {
    for (let row = 1; row <= ROWS; row++) this.addRow(`in.${row}`, this.row(row));
    for (let out = 1; out <= OUTS; out++) this.addStrip(`mix.${out}`, `/out/${out}`);
    this.addStrip('main.1', '/whole');
  }

  /** The message that tells of a setting, whole. */
  messageOf(setting: string): WireMessage | undefined {
    const address = this.addressOf.get(setting);
    return address === undefined ? undefined : this.messageAt(address);
  }

  /** What the desk answers; nothing to what it does not know. */
  answer({ address, args }: WireMessage): WireMessage | undefined {
    if (address === '/there') return { address: '/there/yes', args: [] };
    if (address === '/tell/called')
      return this.quirks.keepsNames ? undefined : this.messageAt(`${String(args[0]?.value)}/called`);
    if (address === '/tell/taps') return this.taps(Number(args[0]?.value));
    const isName = address.endsWith('/called');
    return args.length > 0 || isName ? undefined : this.messageAt(address);
  }

  /** Sets what a message says, and returns what has moved; a message that is not whole moves nothing. */
  take({ address, args }: WireMessage): string[] {
    const cells = this.messages.get(address);
    if (!cells || args.length !== cells.length) return [];
    return cells.flatMap(({ setting, hear }, i) => {
      const argument = args[i];
      return argument && this.desk.move(setting, hear(argument)) ? [setting] : [];
    });
  }

  private messageAt(address: string): WireMessage | undefined {
    const cells = this.messages.get(address);
    return cells && { address, args: cells.map(({ setting, tell }) => tell(this.desk.value(setting) as Value)) };
  }

  private taps(out: number): WireMessage | undefined {
    if (!(out >= 1 && out <= OUTS)) return undefined;
    const args = Array.from({ length: ROWS }, (_, i) =>
      tapCell(`in.${i + 1}`, out).tell(this.desk.value(`in.${i + 1}/sends/mix.${out}/tap`) as Value),
    );
    return { address: `/taps/${out}`, args };
  }

  private row(row: number): string {
    return `/row/${String(row - (this.quirks.zeroBased ? 1 : 0)).padStart(2, '0')}`;
  }

  private add(address: string, cells: readonly Cell[]): void {
    this.messages.set(address, cells);
    for (const { setting } of cells) this.addressOf.set(setting, address);
  }

  private addStrip(strip: string, at: string): void {
    this.add(`${at}/loud`, [this.level(`${strip}/fader/level`)]);
    this.add(`${at}/open`, [
      {
        setting: `${strip}/mute/on`,
        tell: (muted) => (muted === true ? { type: 'F', value: false } : { type: 'T', value: true }),
        hear: ({ type }) => (type === 'T' ? false : type === 'F' ? true : undefined),
      },
    ]);
    this.add(`${at}/called`, [
      {
        setting: `${strip}/label/name`,
        tell: (name) => ({ type: 's', value: String(name) }),
        hear: ({ value }) => value,
      },
    ]);
    this.add(`${at}/tone`, [onOff(`${strip}/eq/on`)]);
    for (let tone = 1; tone <= TONES; tone++)
      this.add(`${at}/tone/${tone}`, [
        octaves(`${strip}/eq/${tone}/freq`, TONE_HZ[tone - 1] ?? [1, 2]),
        plain(`${strip}/eq/${tone}/gain`),
      ]);
  }

  private addRow(strip: string, at: string): void {
    this.addStrip(strip, at);
    const sockets = ['none', ...Array.from({ length: ROWS }, (_, i) => `Socket ${i + 1}`)];
    this.add(`${at}/from`, [
      {
        setting: `${strip}/source/socket`,
        tell: (socket) => ({ type: 'i', value: sockets.indexOf(String(socket)) }),
        hear: ({ value }) => sockets[Number(value)],
      },
    ]);
    const squeeze = (key: string) => `${strip}/compressor/${key}`;
    this.add(`${at}/squeeze`, [
      onOff(squeeze('on')),
      plain(squeeze('threshold')),
      plain(squeeze('ratio')),
      plain(squeeze('release')),
    ]);
    this.add(`${at}/side`, [
      {
        setting: `${strip}/pan/position`,
        tell: (position) => ({ type: 'f', value: Number(position) / 100 }),
        hear: ({ value }) => Number(value) * 100,
      },
    ]);
    const row = at.slice('/row/'.length);
    for (let out = 1; out <= OUTS; out++) {
      this.add(`/pour/${out}/${row}`, [this.level(`${strip}/sends/mix.${out}/level`)]);
      this.add(`/pour/${out}/${row}/tap`, [tapCell(strip, out)]);
    }
  }

  private level(setting: string): Cell {
    const { unitLevels, levelSteps } = this.quirks;
    const coarse = (place: number) => (levelSteps > 0 ? Math.round(place * levelSteps) / levelSteps : place);
    if (!unitLevels) return plain(setting);
    return {
      setting,
      tell: (decibels) => ({ type: 'f', value: coarse(between(FADER, Number(decibels))) }),
      hear: ({ value }) => {
        const decibels = between(
          FADER.map(([at, place]) => [place, at] as const),
          coarse(Number(value)),
        );
        return quantise({ min: OFF_DB, max: TOP_DB, step: 0.1 }, decibels);
      },
    };
  }
}

const onOff = (setting: string): Cell => ({
  setting,
  tell: (on) => ({ type: 'i', value: on === true ? 1 : 0 }),
  hear: ({ value }) => (value === 1 ? true : value === 0 ? false : undefined),
});

const plain = (setting: string): Cell => ({
  setting,
  tell: (number) => ({ type: 'f', value: Number(number) }),
  hear: ({ value }) => value,
});

const octaves = (setting: string, [low, high]: readonly [number, number]): Cell => ({
  setting,
  tell: (hertz) => ({ type: 'f', value: Math.log2(Number(hertz) / low) / Math.log2(high / low) }),
  hear: ({ value }) => low * 2 ** (Number(value) * Math.log2(high / low)),
});

const tapCell = (strip: string, out: number): Cell => ({
  setting: `${strip}/sends/mix.${out}/tap`,
  tell: (tap) => ({ type: 's', value: tap === 'pre' ? 'early' : 'late' }),
  hear: ({ value }) => ({ early: 'pre', late: 'post' })[String(value)],
});

function between(points: readonly (readonly [number, number])[], x: number): number {
  const next = Math.max(
    1,
    points.findIndex(([at]) => at >= x),
  );
  const [[fromX, from], [toX, to]] = [points[next - 1] ?? [0, 0], points[next] ?? [1, 1]];
  return from + ((x - fromX) / (toX - fromX)) * (to - from);
}
