import { createSocket } from 'node:dgram';
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

import microdiff from 'microdiff';
import objectHash from 'object-hash';

import { diffStates } from '@old-echo/core/desk/diff-states';
import { fingerprint } from '@old-echo/core/desk/fingerprint';
import { parseProfile } from '@old-echo/core/desk/profile';
import { defaultState, type SettingsByAddress, type State, withSettings } from '@old-echo/core/desk/state';
import { describeScope } from '@old-echo/core/phrases/describe-scope';
import { compileScope } from '@old-echo/core/recall/compile-scope';
import { preview } from '@old-echo/core/recall/preview';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { pickSections, scopeToSelection, selectionToScope } from '@old-echo/core/recall/scope-selection';
import { pathGains } from '@old-echo/core/signal/path-gain';
import { encodeBundles } from '@old-echo/desk-link/codec';
import { OscLink } from '@old-echo/desk-link/osc-link';
import { toArguments } from '@old-echo/desk-link/values';
import { SimulatedDesk } from '@old-echo/stand-in/desk';
import { DeskServer } from '@old-echo/stand-in/front';

import { comparison } from './comparison';
import { print, time } from './figure';
import { swap, touches } from './flip';
import { frames, wideDesk } from './frames';
import { history } from './history';
import { long } from './long';
import { merging } from './merging';
import { people } from './people';
import { sound } from './sound';
import { switching } from './switching';

const here = dirname(fileURLToPath(import.meta.url));
const json: unknown = JSON.parse(readFileSync(join(here, '..', '..', 'demo', 'profiles', 'quay-48.json'), 'utf8'));
const quay = parseProfile(json);

/** 500 settings of the inputs, moved by a few steps. */
const moves = (by: number): SettingsByAddress =>
  Object.fromEntries(
    Array.from({ length: 500 }, (_, i) => [
      `in.${(i % 48) + 1}/sends/mix.${Math.floor(i / 48) + 1}/level`,
      -20 - by - (i % 9),
    ]),
  );
const was = defaultState(quay);
const now = withSettings(structuredClone(was), moves(0));
const copied = (state: State): State => structuredClone(state);

async function core(): Promise<void> {
  const other = copied(now);
  print({
    name: 'drift of two states of the Quay, no strip shared (other: microdiff)',
    ours: await time(() => diffStates(quay, was, other)),
    other: await time(() => microdiff(was, other)),
    unit: 'ms',
    goal: { ratio: 1 },
  });
  print({
    name: 'preview of 500 changes on the Quay (other: microdiff, which only finds them)',
    ours: await time(() =>
      preview({ profile: quay, now: was, target: other, scope: ALL_EXCEPT_GLOBALS, safes: [], mode: 'live' }),
    ),
    other: await time(() => microdiff(was, other)),
    unit: 'ms',
    goal: { most: 100 },
  });
  const choice = scopeToSelection(quay, ALL_EXCEPT_GLOBALS);
  let picked = false;
  print({
    name: 'a touch of the scope on the Quay: rules, sentence and preview with its cautions, 500 settings differing (other: microdiff)',
    ours: await time(() => {
      const scope = selectionToScope(quay, pickSections(choice, ['eq'], (picked = !picked)));
      describeScope(quay, compileScope(quay, scope));
      return preview({ profile: quay, now: was, target: other, scope, safes: [], mode: 'live' });
    }),
    other: await time(() => microdiff(was, other)),
    unit: 'ms',
    goal: { most: 100 },
  });
  print({
    name: 'gain of all 1,456 paths of the Quay (other: microdiff of the same state)',
    ours: await time(() => pathGains(quay, now)),
    other: await time(() => microdiff(was, other)),
    unit: 'ms',
    goal: { most: 20 },
  });
  const strips = Object.values(was);
  print({
    name: 'fingerprints of 99 strips (other: object-hash, SHA-256)',
    ours: await time(() => strips.map((strip) => fingerprint(strip)), 7),
    other: await time(() => strips.map((strip) => objectHash(strip, { algorithm: 'sha256' })), 7),
    unit: 'ms',
    goal: { ratio: 1 },
  });
}

/** The time plain sockets need to carry the same packets over loopback, one way, without any decoding. */
async function plainSockets(packets: readonly Uint8Array[]): Promise<number> {
  const [sender, receiver] = [createSocket('udp4'), createSocket({ type: 'udp4', recvBufferSize: 4 * 1024 * 1024 })];
  await new Promise<void>((resolve) => receiver.bind(0, '127.0.0.1', resolve));
  const { port } = receiver.address();
  let heard = 0;
  let done: () => void = () => undefined;
  receiver.on('message', () => {
    if (++heard === packets.length) done();
  });
  const once = () =>
    new Promise<void>((resolve) => {
      heard = 0;
      done = resolve;
      for (const packet of packets) sender.send(packet, port, '127.0.0.1');
    });
  const ms = await time(once, 9);
  sender.close();
  receiver.close();
  return ms;
}

const packetsOf = (settings: SettingsByAddress) =>
  encodeBundles(
    Object.entries(settings).map(([address, value]) => ({ address: `/${address}`, args: toArguments(value) })),
  );

async function wire(): Promise<void> {
  const desk = new SimulatedDesk(quay);
  const front = new DeskServer(desk);
  const link = new OscLink({ profile: quay, host: '127.0.0.1', port: await front.open(0) });
  await new Promise<void>((resolve) => link.listen((event) => event.type === 'linked' && resolve()));
  print({
    name: 'all 10,107 settings of the Quay read over loopback (other: plain sockets, same packets, not decoded)',
    ours: await time(() => link.readAll(), 9),
    other: await plainSockets(packetsOf(desk.settings())),
    unit: 'ms',
    goal: { most: 1000 },
  });
  let by = 0;
  const writeAndRead = async () => {
    const settings = moves((by = (by + 1) % 30));
    await link.write(settings);
    await link.read(Object.keys(settings));
  };
  print({
    name: '500 settings written and read back over loopback (other: plain sockets, same packets, not decoded)',
    ours: await time(writeAndRead, 9),
    other: await plainSockets(packetsOf(moves(0))),
    unit: 'ms',
    goal: { most: 1000 },
  });
  await link.close();
  await front.close();
}

/** All, or those that are named on the command line. */
const benches = {
  core,
  wire,
  swap: () => swap((settings) => plainSockets(packetsOf(settings))),
  touches: () => touches((settings) => plainSockets(packetsOf(settings))),
  wideDesk,
  history: () => history(quay, json),
  frames: () => frames(quay),
  sound: () => sound(quay),
  long: () => long(quay),
  switching,
  people,
  merging: () => merging(json as Parameters<typeof merging>[0]),
  comparison: () => comparison(json as Parameters<typeof comparison>[0]),
};
const wanted = process.argv.slice(2);
for (const [name, bench] of Object.entries(benches)) if (wanted.length === 0 || wanted.includes(name)) await bench();
