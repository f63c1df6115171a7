import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';

import { parseProfile } from '@old-echo/core/desk/profile';

import { openControl } from './control';
import { SimulatedDesk } from './desk';
import { DeskServer } from './front';
import { Keeper } from './keeper';
import { type FrontQuirks, WeirFront } from './weir-front';

const USAGE = `Usage: stand-in --profile FILE --port N [--keep FILE] [--control N] [--scheme own|weir] [--quirks JSON]
                [--loss 0..1] [--delay MS] [--reorder 0..1] [--seed N]`;

const { values } = parseArgs({
  options: {
    profile: { type: 'string' },
    port: { type: 'string' },
    keep: { type: 'string' },
    control: { type: 'string' },
    scheme: { type: 'string', default: 'own' },
    quirks: { type: 'string', default: '{}' },
    loss: { type: 'string', default: '0' },
    delay: { type: 'string', default: '0' },
    reorder: { type: 'string', default: '0' },
    seed: { type: 'string', default: '1' },
  },
});

async function main(): Promise<void> {
  if (!values.profile || !values.port) throw new Error(USAGE);
  const profile = parseProfile(JSON.parse(readFileSync(values.profile, 'utf8')));
  const desk = new SimulatedDesk(profile, values.keep ? Keeper.read(values.keep) : {});
  const keeper = values.keep ? new Keeper(values.keep, () => desk.settings()) : undefined;
  const front =
    values.scheme === 'weir'
      ? new WeirFront(desk, JSON.parse(values.quirks) as Partial<FrontQuirks>, () => keeper?.soon())
      : new DeskServer(desk, '127.0.0.1', () => keeper?.soon());
  front.misbehave({
    loss: Number(values.loss),
    delay: Number(values.delay),
    reorder: Number(values.reorder),
    seed: Number(values.seed),
  });
  const port = await front.open(Number(values.port));
  if (front instanceof DeskServer) await front.beFound();
  const control = values.control ? await openControl(front, Number(values.control), '127.0.0.1') : undefined;
  const stop = () => {
    keeper?.now();
    control?.close();
    void front.close().then(() => process.exit(0));
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  process.on('disconnect', stop);
  console.log(`${profile.name} answers on port ${port}.`);
  process.send?.('ready');
}

main().catch((error: unknown) => {
  const taken = error instanceof Error && 'code' in error && error.code === 'EADDRINUSE';
  console.error(
    taken ? `Port ${values.port} is taken; give the desk another.` : error instanceof Error ? error.message : error,
  );
  process.exit(1);
});
