/**
 * Loaded by a server that is to die at an exact point: OLD_ECHO_DIE_AT says `write 3` or `send 5`. It counts from the SIGUSR2 that a test
 * sends, and says how far it got in OLD_ECHO_POINTS, a file.
 */
const { Socket } = require('node:dgram');
const { renameSync, writeFileSync } = require('node:fs');

const mysql2 = require('mysql2');

const [kind, at] = (process.env.OLD_ECHO_DIE_AT ?? 'nowhere 0').split(' ');
const points = { write: 0, send: 0 };
let isCounting = false;
process.on('SIGUSR2', () => (isCounting = true));

function reach(what) {
  if (!isCounting) return;
  points[what]++;
  // Whole at any moment: it may be read, or this process end, in the middle of writing it.
  writeFileSync(`${process.env.OLD_ECHO_POINTS}.next`, JSON.stringify(points));
  renameSync(`${process.env.OLD_ECHO_POINTS}.next`, process.env.OLD_ECHO_POINTS);
  if (what === kind && points[what] === Number(at)) process.kill(process.pid, 'SIGKILL');
}

/** Calls something before a method of every object of a kind. */
function before(prototype, name, call) {
  let owner = prototype;
  while (!Object.hasOwn(owner, name)) owner = Object.getPrototypeOf(owner);
  const original = owner[name];
  owner[name] = function (...args) {
    call(...args);
    return original.apply(this, args);
  };
}

before(mysql2.Connection.prototype, 'query', (query) => {
  if (/^\s*(insert|update|delete|replace|commit)/i.test(query.sql ?? query)) reach('write');
});
before(Socket.prototype, 'send', () => reach('send'));
