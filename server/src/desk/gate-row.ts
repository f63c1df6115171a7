import type { DeskRow } from '../database/tables';

/** What of a desk decides which moves pass. */
export type GateRow = Pick<DeskRow, 'name' | 'show_lock' | 'mode' | 'safes' | 'thresholds'>;

/** How long a hand waits for the database before what was known last is taken, in ms. */
const PATIENCE_MS = 300;

const lastKnown = new WeakMap<object, GateRow>();
/** The last question of each desk: moves pass in the order in which they came. */
const turns = new WeakMap<object, Promise<unknown>>();

/**
 * What decides which moves pass on a desk, as the database has it; where that does not answer, as it was known last: hands are not
 * held up by it. Answers come in the order of the questions.
 * @param session what stands for the desk
 * @throws whatever `load` does, where nothing was known yet
 */
export function gateRow(session: object, load: () => Promise<GateRow>): Promise<GateRow> {
  const turn = (turns.get(session) ?? Promise.resolve()).then(() => knownOrLoaded(session, load));
  turns.set(
    session,
    turn.catch(() => undefined),
  );
  return turn;
}

async function knownOrLoaded(session: object, load: () => Promise<GateRow>): Promise<GateRow> {
  const asked = load().then((row) => {
    lastKnown.set(session, row);
    return row;
  });
  const last = lastKnown.get(session);
  if (!last) return asked;
  let timer: NodeJS.Timeout | undefined;
  const patience = new Promise<GateRow>((resolve) => {
    timer = setTimeout(() => resolve(last), PATIENCE_MS);
  });
  return Promise.race([asked.catch(() => last), patience]).finally(() => clearTimeout(timer));
}
