// A bridge: Old Echo's conversation at PORT, a desk with a language of its own at DESK-PORT. node bridge.mjs PORT DESK-PORT
// It carries the faders, mutes and names of 16 inputs; docs/desk-link.md says what each message is for.
import { createSocket } from 'node:dgram';

import osc from 'osc/src/osc.js';

const [port, deskPort] = process.argv.slice(2).map(Number);
const [echo, desk] = [createSocket('udp4'), createSocket('udp4')];
const message = (address, ...args) => ({ address, args });
const int = (value) => ({ type: 'i', value });
const text = (value) => ({ type: 's', value });
const packed = (...packets) => osc.writePacket({ timeTag: { raw: [0, 1] }, packets }, { metadata: true });
const messagesIn = (bytes) => [osc.readPacket(bytes, { metadata: true })].flatMap((one) => one.packets ?? [one]);

// The two languages: what each of our settings is there, how it is asked for, and how its value goes there and back.
const WORDS = { 'fader/level': 'loud', 'mute/on': 'open', 'label/name': 'called' };
const settings = Array.from({ length: 16 }, (_, i) => Object.keys(WORDS).map((key) => `/in.${i + 1}/${key}`)).flat();
const row = (one) => `/row/${one.split(/[./]/)[2].padStart(2, '0')}`;
const there = (one) => `${row(one)}/${WORDS[one.split('/').slice(2).join('/')]}`;
const here = new Map(settings.map((one) => [there(one), one]));
const question = (one) => (one.endsWith('/name') ? message('/tell/called', text(row(one))) : message(there(one)));
const toDesk = (one, arg) => message(there(one), one.endsWith('/on') ? { type: arg.value ? 'F' : 'T' } : arg);
const fromDesk = (one, arg) => (one.endsWith('/on') ? int(arg.type === 'F' ? 1 : 0) : arg);

const [known, sent, pushes, boot] = [new Map(), new Map(), [], int(Math.floor(Math.random() * 2 ** 31))];
let [heardAt, watcher, calls, reads] = [0, undefined, [], []];
const tell = (messages) => messages.forEach((one) => desk.send(packed(one), deskPort, '127.0.0.1'));
const reply = (to, ...messages) => to && echo.send(packed(...messages), to.port, to.address);
// What has moved is told before the answer to a call that was sent after it, not before that to one of earlier: answers have no number.
const call = (then) => {
  calls.push({ at: Date.now(), then });
  tell([message('/there')]);
};
const values = (some) => some.map((one) => message(one, known.get(one)));

function learn(one, now) {
  const before = known.get(one);
  known.set(one, now);
  if (before && before.value !== now.value) {
    const by = sent.get(one)?.value === now.value ? sent.get(one).by : 0;
    pushes.push([message('/link/push', int(pushes.length + 1), int(by)), ...values([one])]);
    reply(watcher, ...pushes.at(-1));
  }
  reads.forEach(({ missing }) => missing.delete(one));
  for (const { from, token, asked } of reads.filter(({ missing }) => missing.size === 0))
    reply(from, message('/link/values', int(pushes.length), token), ...values(asked));
  reads = reads.filter(({ missing }) => missing.size > 0);
}
desk.on('message', (bytes) => {
  heardAt = Date.now();
  for (const { address, args } of messagesIn(bytes)) {
    if (address === '/there/yes') {
      calls = calls.filter(({ at }) => heardAt - at < 5000);
      calls.shift()?.then?.();
    }
    if (here.has(address)) learn(here.get(address), fromDesk(here.get(address), args[0]));
  }
});

const HEARD = {
  '/link/hello': (from) => reply(from, message('/link/desk', text('weir-faders'), text('Weir faders'), boot)),
  '/link/watch': (from, [lease]) => reply((watcher = from), message('/link/watching', lease, int(pushes.length))),
  '/link/ping': (from, [n]) => {
    call(() => reply(from, message('/link/pong', n, int(pushes.length), boot)));
  },
  '/link/resend': (from, [first, last]) => pushes.slice(first.value - 1, last.value).forEach((one) => reply(from, ...one)),
  '/link/read': (from, [token], questions) => {
    const patterns = questions.map(({ address }) => new RegExp(`^${address.replaceAll('*', '[^/]*')}$`));
    const asked = settings.filter((one) => patterns.some((pattern) => pattern.test(one)));
    reads = [...reads.slice(-100), { from, token, asked, missing: new Set(asked) }];
    tell(asked.map(question));
  },
  '/link/write': (_, [by], writes) => {
    writes.forEach(({ address, args: [arg] }) => sent.set(address, { by: by.value, value: arg.value }));
    tell(writes.map(({ address, args: [arg] }) => toDesk(address, arg)));
  },
};
echo.on('message', (bytes, from) => {
  const [head, ...rest] = messagesIn(bytes);
  // As silent as the desk behind it.
  if (Date.now() - heardAt < 1000 && known.size === settings.length) HEARD[head.address]?.(from, head.args, rest);
});
echo.bind(port, '127.0.0.1', () => console.log(`The bridge answers on port ${echo.address().port}.`));
setInterval(() => {
  call();
  tell(settings.filter((one) => !known.has(one)).map(question));
}, 100);
