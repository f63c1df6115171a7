import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';

import { certificateIn, fingerprint } from './certificate.mjs';
import { Children } from './children.mjs';
import { compile } from './compile.mjs';
import { needDebian } from './debian.mjs';
import { showCode } from './entry-code.mjs';
import { assertNotRunning, HOME, LOCK } from './home.mjs';
import { installPackages } from './install.mjs';
import { PlainError, runScript } from './plain-error.mjs';
import { ask } from './running-server.mjs';
import { makeDemo, startAll } from './stage.mjs';
import { buildWeb } from './web-build.mjs';

const { values } = parseArgs({
  options: {
    fresh: { type: 'boolean', default: false },
    /** Devices on the network can be let in. */
    network: { type: 'boolean', default: false },
    /** The same where a phone cannot be brought to trust a certificate: nothing is encrypted. */
    plain: { type: 'boolean', default: false },
  },
});

await runScript(async () => {
  assertNotRunning();
  needDebian(['mariadb']);
  installPackages();
  compile();
  if (values.fresh) rmSync(HOME, { recursive: true, force: true });
  mkdirSync(HOME, { recursive: true, mode: 0o700 });
  writeFileSync(LOCK, `${process.pid} `);
  const children = new Children();
  const building = new AbortController();
  let stopping;
  const stop = (code) => {
    stopping ??= (async () => {
      building.abort();
      await children.endAll();
      rmSync(LOCK, { force: true });
      process.exit(code);
    })();
    return stopping;
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0));
  try {
    await buildWeb(building.signal);
    makeDemo(HOME);
    const host = process.env.OLD_ECHO_HOST ?? '127.0.0.1';
    const network = (values.network || values.plain) && {
      port: process.env.OLD_ECHO_NETWORK_PORT ?? 4651,
      ...(values.plain ? { plain: true } : await certificateIn(join(HOME, 'certificate'))),
    };
    const { port, networkPort } = await startAll(children, HOME, {
      port: process.env.OLD_ECHO_PORT ?? 4650,
      host,
      network,
    });
    const url = `http://${host === '0.0.0.0' ? 'localhost' : host}:${port}`;
    writeFileSync(LOCK, `${process.pid} ${url}`);
    console.log(`\nOld Echo is ready at ${url}\nCtrl-C ends it.`);
    if (network) await tellOfNetwork(network, networkPort, url);
  } catch (error) {
    if (stopping) return stopping;
    console.error(error instanceof PlainError ? `\n${error.message}` : error);
    await stop(1);
  }
});

/** How a phone gets in. Where no owner is let in yet, the first one gets in by what is printed. */
async function tellOfNetwork(network, port, url) {
  console.log(
    `On the network it answers by ${network.plain ? 'http, not encrypted,' : 'https'} on port ${port}. ` +
      'To let somebody in: Settings, People, on this machine; or npm run let-in.',
  );
  if (network.certificate)
    console.log(`A phone is shown a certificate with this fingerprint (SHA-256):\n${fingerprint(network.certificate)}`);
  const people = await ask(url, 'GET', '/people');
  if (!people.some(({ role }) => role === 'owner')) await showCode(url, 'Owner', 'owner');
}
