/** Colours of one theme, by what they mean. */
export interface Look {
  readonly dark: boolean;
  readonly paper: string;
  readonly card: string;
  readonly wash: string;
  readonly ink: string;
  readonly second: string;
  readonly line: string;
  readonly echo: string;
  /** Done and verified. */
  readonly done: string;
  readonly care: string;
  readonly stop: string;
  /** The two sides of a comparison; used for nothing else. */
  readonly a: string;
  readonly b: string;
}

/** Warm paper by day. */
export const DAY: Look = {
  dark: false,
  paper: '#F6F1E7',
  card: '#FFFBF3',
  wash: '#EDE5D6',
  ink: '#1E2B33',
  second: '#55636B',
  line: '#DDD3C2',
  echo: '#8A9BA3',
  done: '#1F6A5A',
  care: '#8A5F00',
  stop: '#A3231F',
  a: '#2F5D8A',
  b: '#A8482A',
};

/** Deep harbour blue-black on a dark stage. */
export const NIGHT: Look = {
  dark: true,
  paper: '#10171B',
  card: '#182227',
  wash: '#202D33',
  ink: '#EDE6D8',
  second: '#9DB0B8',
  line: '#2C3A41',
  echo: '#6E828C',
  done: '#63C2A8',
  care: '#E3B34A',
  stop: '#F07A6E',
  a: '#7FB2E5',
  b: '#E79A78',
};

/** Colours that strips can be given, by the names that desks have for them; each told apart from what it stands on. */
export const STRIP_COLOURS: Readonly<Record<string, { readonly day: string; readonly night: string }>> = {
  sand: { day: '#97733C', night: '#D9BE8C' },
  reed: { day: '#6B7A24', night: '#B5C46A' },
  slate: { day: '#5B6C7A', night: '#9AAFC0' },
  rust: { day: '#A34A28', night: '#E08A63' },
  foam: { day: '#247F89', night: '#7FD3DB' },
  kelp: { day: '#2F6B45', night: '#6FBF8C' },
  brass: { day: '#8F6B00', night: '#E0B84A' },
  night: { day: '#2A3350', night: '#8C97C8' },
};

export const FONT = {
  title: 'Fraunces_600SemiBold',
  text: 'AtkinsonHyperlegibleNext_400Regular',
  strong: 'AtkinsonHyperlegibleNext_600SemiBold',
  value: 'AtkinsonHyperlegibleMono_400Regular',
} as const;

export const SIZE = { figure: 26, title: 24, heading: 17, body: 15, small: 13 } as const;

/** Steps of the 4-point grid. */
export const SPACE = { xs: 4, s: 8, m: 12, l: 16, xl: 24, xxl: 40 } as const;

export const ROW = 50;
export const TOUCH = 44;
export const CORNER = { small: 8, large: 12 } as const;

/** From this width on, list and detail stand side by side and the bar becomes a rail. */
export const WIDE = 1024;
/** Under this height a screen is a phone held sideways. */
export const LOW = 500;
export const RAIL = 88;
export const LIST_WIDTH = 520;
/** The widest a column of reading gets. */
export const MAX_TEXT_WIDTH = 720;
