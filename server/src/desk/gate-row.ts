import type { DeskRow } from '../database/tables';

/** What of a desk decides which moves pass. */
export type GateRow = Pick<DeskRow, 'name' | 'show_lock' | 'mode' | 'safes' | 'thresholds'>;

/** How long a hand waits for the database before what was known last is taken, in ms. */
const PATIENCE_MS = 300;

/** Questions about one desk: the one that is on its way, and the one that everybody who came since waits for. */
interface Asking {
  last: GateRow | undefined;
  now: Promise<GateRow> | undefined;
  next: Promise<GateRow> | undefined;
}

const asking = new WeakMap<object, Asking>();

/**
 * What decides which moves pass on a desk, as the database has it at this moment or after it; where that does not answer, as it was
 * known last: hands are not held up by it. Hands that come together ask together, and answers come in the order of the questions.
 * @param session what stands for the desk
 * @throws whatever `load` does, where nothing was known yet
 */
export async function gateRow(session: object, load: () => Promise<GateRow>): Promise<GateRow> {
  const own = asking.get(session) ?? { last: undefined, now: undefined, next: undefined };
  asking.set(session, own);
  const asked = ask(own, load);
  const { last } = own;
  if (!last) return asked;
  let timer: NodeJS.Timeout | undefined;
  const patience = new Promise<GateRow>((resolve) => {
    timer = setTimeout(() => resolve(own.last ?? last), PATIENCE_MS);
  });
  return Promise.race([asked.catch(() => own.last ?? last), patience]).finally(() => clearTimeout(timer));
}

/** An answer to a question that is not asked before now. */
function ask(own: Asking, load: () => Promise<GateRow>): Promise<GateRow> {
  if (!own.now) return begin(own, load);
  return (own.next ??= own.now
    .catch(() => undefined)
    .then(() => {
      own.next = undefined;
      return begin(own, load);
    }));
}

function begin(own: Asking, load: () => Promise<GateRow>): Promise<GateRow> {
  const now = load().then((row) => (own.last = row));
  own.now = now;
  const end = () => {
    if (own.now === now) own.now = undefined;
  };
  now.then(end, end);
  return now;
}
