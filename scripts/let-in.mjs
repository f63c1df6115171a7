import { parseArgs } from 'node:util';

import { showCode } from './entry-code.mjs';
import { runScript } from './plain-error.mjs';
import { runningAddress } from './running-server.mjs';

const {
  positionals: [name = 'Owner', role = 'owner'],
} = parseArgs({ allowPositionals: true });

// A code for somebody who is known by that name, or for somebody new: npm run let-in -- "Rosa Tidewell" engineer
await runScript(async () => {
  await showCode(runningAddress(), name, role);
});
