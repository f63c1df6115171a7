import { LOCK } from './home.mjs';
import { PlainError } from './plain-error.mjs';
import { readIfThere } from './stage.mjs';

/** Where Old Echo answers that was started on the data. @throws PlainError where nobody has started it */
export function runningAddress() {
  const [, address] = readIfThere(LOCK).split(' ');
  if (!address) throw new PlainError('Old Echo is not running. Start it with npm start -- --network.');
  return address;
}

/** What a running server answers, as whoever sits at this machine. @throws PlainError what it says where it refuses */
export async function ask(address, method, path, body) {
  const sent = body ? { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } } : {};
  const answer = await fetch(`${address}/api${path}`, { method, ...sent }).catch(() => {
    throw new PlainError(`Old Echo does not answer at ${address}.`);
  });
  const said = await answer.json();
  if (!answer.ok) throw new PlainError(`${said.title} ${said.detail}`);
  return said;
}
