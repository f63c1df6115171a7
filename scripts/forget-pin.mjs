import { parseArgs } from 'node:util';

import { PlainError, runScript } from './plain-error.mjs';
import { ask, runningAddress } from './running-server.mjs';

const {
  positionals: [name],
} = parseArgs({ allowPositionals: true });

// The show lock of a desk is lifted without its PIN from then on: npm run forget-pin -- "Quay 48"
await runScript(async () => {
  const address = runningAddress();
  const desks = await ask(address, 'GET', '/desks');
  const desk = desks.find((one) => one.name === name);
  if (!desk) throw new PlainError(`Say which desk: ${desks.map((one) => `"${one.name}"`).join(', ')}.`);
  await ask(address, 'POST', `/desks/${desk.id}/forget-pin`, {});
  console.log(`The show on ${desk.name} can be unlocked without a PIN.`);
});
