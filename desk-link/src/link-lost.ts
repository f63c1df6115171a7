import { Fault } from '@old-echo/core/fault/fault';

/** What anyone is told who asks a desk that does not answer. */
export const linkLost = (message: string): Fault =>
  new Fault('link-lost', message, 'Check the desk and its network cable. Old Echo reconnects by itself.');

/** Why some settings are not read: no answer came for them, or what was answered is no value of theirs. */
export function unread(name: string, missing: readonly string[], strange: ReadonlySet<string>): string {
  const beyond = missing.find((address) => strange.has(address));
  return beyond === undefined
    ? `${name} did not answer for ${missing[0]}.`
    : `${name} holds a value of ${beyond} that its model does not take.`;
}
