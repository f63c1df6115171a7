/** Where the app, an empty server and the simulated desks are. */
interface Stage {
  readonly url: string;
  /** Where others on the network reach it. */
  readonly network: string;
  readonly empty: string;
  /** The folder of its data; empty where this run has not started it. */
  readonly home: string;
  readonly desks: Readonly<Record<string, number>>;
  /** The id of each process as it was first started. */
  readonly processes: Readonly<Record<string, number>>;
}

/** The demo as `npm start` has it. */
const STARTED: Stage = {
  url: 'http://127.0.0.1:4650',
  network: 'https://127.0.0.1:4651',
  empty: '',
  home: '',
  desks: { 'quay-48': 47148, boathouse: 47140, 'skiff-16': 47116 },
  processes: {},
};

const stages = JSON.parse(process.env['OLD_ECHO_STAGES'] ?? 'null') as Stage[] | null;

/** The stage of this browser: each has its own. */
export const stage: Stage = stages?.[Number(process.env['TEST_PARALLEL_INDEX'] ?? 0)] ?? STARTED;

/** How many browsers can be at work. */
export const stageCount = stages?.length ?? 1;
