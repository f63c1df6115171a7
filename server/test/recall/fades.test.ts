import { writeFileSync } from 'node:fs';

import { sceneRecall } from '@old-echo/core/contracts/restore';
import type { SettingsByAddress } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import { realTime } from '@old-echo/testing/real-time';

import { Rig, tape, until } from '../server-rig';

jest.setTimeout(120_000);

/** Where the fades are drawn, as an SVG; nowhere in an ordinary run. */
const DRAWING = process.env['OLD_ECHO_DRAW_FADES'];

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
  await rig.call('PATCH', `/desks/${rig.desk.id}`, { safes: [] });
});
afterAll(async () => {
  if (DRAWING) writeFileSync(DRAWING, drawing());
  await rig.close();
});

const inTime = realTime();
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** What one strip puts on the main, as the desk's own values say at each hundredth of a second. */
type Line = readonly (readonly [seconds: number, level: number])[];
const panels: { readonly title: string; readonly lines: readonly Line[] }[] = [];

const up: SettingsByAddress = {
  'in.1/mute/on': false,
  'in.2/mute/on': false,
  'in.1/fader/level': -5,
  'in.2/fader/level': -5,
  'in.1/routing/dca.1': true,
  'in.1/routing/group.3': false,
  'dca.1/fader/level': 0,
};
const level = (n: number, of: SettingsByAddress): number => {
  if (of[`in.${n}/mute/on`] === true) return -90;
  return Number(of[`in.${n}/fader/level`]) + (n === 1 ? Number(of['dca.1/fader/level']) : 0);
};

/** Restores a scene from another state as a fade, and films two strips meanwhile. */
async function filmed(
  title: string,
  from: SettingsByAddress,
  to: SettingsByAddress,
  more: object,
  meanwhile?: (id: string) => Promise<void>,
) {
  rig.front.hands({ ...up, ...to });
  await wait(80);
  const scene = (await rig.capture(`${title} ${panels.length}`)).body;
  const start = { ...up, ...from };
  rig.front.hands(start);
  const moved = Object.keys(start).filter((address) => start[address] !== { ...up, ...to }[address]);
  await until(async () => (await rig.preview(scene.id, ALL_EXCEPT_GLOBALS)).changes.length === moved.length);
  const film = tape(() => rig.front.desk.settings(), Object.keys(up));
  const { id } = await rig.beginNow(sceneRecall(rig.desk.id, scene.id, ALL_EXCEPT_GLOBALS), more);
  await meanwhile?.(id);
  const ended = await rig.ended(id);
  await wait(150);
  film.stop();
  const lines = [1, 2].map((n): Line => film.took.map(([ms, values]) => [ms / 1000, Math.max(-65, level(n, values))]));
  panels.push({ title, lines });
  return { ended, lines };
}
const last = (line: Line) => line.at(-1)![1];
const between = (line: Line) => line.filter(([, at]) => at > -60).length;

test.each([
  ['One opens, one closes, evenly in dB', 'even'],
  ['The same as a crossfade of equal power', 'equal power'],
] as const)(
  '%s',
  inTime(async (title, curve) => {
    const { ended, lines } = await filmed(
      title,
      { 'in.1/mute/on': true },
      { 'in.2/mute/on': true },
      { fade: 2, curve },
    );
    expect([ended.status, lines.map((line) => Math.round(last(line)))]).toEqual(['confirmed', [-5, -65]]);
    for (const line of lines) expect(between(line)).toBeGreaterThan(40);
  }),
);

test(
  'A DCA falls while the fader rises: one even way',
  inTime(async () => {
    const [from, to] = [
      { 'in.1/fader/level': -25, 'dca.1/fader/level': 5 },
      { 'in.1/fader/level': -5, 'dca.1/fader/level': -15 },
    ];
    const { lines } = await filmed('A DCA falls while its fader rises', from, to, { fade: 1.5 });
    for (const [, at] of lines[0]!) expect(Math.abs(at + 20)).toBeLessThan(1.05);
  }),
);

test(
  'A strip changes its group behind a fade of its own',
  inTime(async () => {
    const { ended, lines } = await filmed(
      'A strip changes its group',
      {},
      { 'in.1/routing/group.3': true },
      { fade: 1.5 },
    );
    expect([ended.status, Math.min(...lines[0]!.map(([, at]) => at)), last(lines[0]!)]).toEqual(['confirmed', -65, -5]);
  }),
);

test(
  'Stopped in the middle, and a hand that takes one of two faders',
  inTime(async () => {
    const far = { 'in.1/fader/level': -45, 'in.2/fader/level': -45 };
    const stopped = await filmed('Stopped after a second', far, {}, { fade: 2 }, async (id) => {
      await wait(1000);
      await rig.post(`/restores/${id}/cancel`, { how: 'stop' });
    });
    expect(stopped.ended.status).toBe('cancelled');
    const held = await filmed('A hand takes one of two', far, {}, { fade: 2 }, async () => {
      await wait(900);
      rig.front.hands({ 'in.2/fader/level': -33 });
    });
    expect(held.lines.map(last)).toEqual([-5, -33]);
  }),
);

/** The panels one under the other: seconds to the right, dB upwards. */
function drawing(): string {
  const [width, height, gap, left] = [640, 150, 50, 44];
  const x = (seconds: number) => left + seconds * 175;
  const y = (at: number) => (10 - at) * (height / 75);
  const graphs = panels.map(({ title, lines }, i) => {
    const grid = [0, -20, -40, -60].map(
      (at) =>
        `<path d="M${left} ${y(at)}H${width}" stroke="#8a8577" stroke-width=".5"/><text x="4" y="${y(at) + 4}">${at === 0 ? '0 dB' : `−${-at}`}</text>`,
    );
    const paths = lines.map((line, n) => {
      const points = line.map(([seconds, at]) => `${x(seconds).toFixed(1)} ${y(at).toFixed(1)}`).join('L');
      return `<path d="M${points}" fill="none" stroke="#1f2a30" stroke-width="2"${n === 1 ? ' stroke-dasharray="2 4"' : ''}/>`;
    });
    const seconds = [0, 1, 2, 3].map((s) => `<text x="${x(s)}" y="${height + 14}">${s} s</text>`);
    return `<g transform="translate(0 ${40 + i * (height + gap)})"><text x="${left}" y="-8" font-weight="bold">${title}</text>${[...grid, ...paths, ...seconds].join('')}</g>`;
  });
  const all = 40 + panels.length * (height + gap);
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width + 20} ${all}" font-family="sans-serif" font-size="12" fill="#1f2a30"><rect width="100%" height="100%" fill="#f5f1e6"/>${graphs.join('')}</svg>\n`;
}
