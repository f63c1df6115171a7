import type { Unconfirmed } from '@old-echo/core/contracts/restore';
import { specOf } from '@old-echo/core/desk/profile';
import { sameValue, type Value } from '@old-echo/core/desk/setting';
import { type SettingsByAddress, valueAt } from '@old-echo/core/desk/state';

import type { DeskMirror } from './desk-mirror';

/** Times a setting is sent before it is given up. At 30 % loss each way one in 10^4 needs more than eight. */
const MAX_SENDS = 12;
/** Pause before what did not arrive is sent again, in ms; doubled up to the longest. */
const MIN_RETRY_MS = 5;
const MAX_RETRY_MS = 200;

interface ConfirmOptions {
  /** Settings that must not be sent any more, asked before every sending. */
  readonly isExcluded?: (address: string) => boolean;
  readonly onProgress?: (confirmed: number) => void;
  /** Asked before every sending; what may not go on is given up as it is. */
  readonly shouldContinue?: () => boolean;
}

/**
 * Sends settings and reads them back until each stands on the desk within half a step. Returns those that do not, each
 * with the reason; what was left alone on request is not among them.
 * @throws Fault `link-lost` when the desk stops answering
 */
export async function writeAndVerify(
  session: DeskMirror,
  settings: SettingsByAddress,
  { isExcluded = () => false, onProgress, shouldContinue = () => true }: ConfirmOptions = {},
): Promise<Unconfirmed[]> {
  const refused = new Map<string, string>();
  const stop = session.listen((event) => {
    if (event.type === 'refused') refused.set(event.address, event.why);
  });
  const before = session.state;
  let open = Object.entries(settings);
  let found: SettingsByAddress = {};
  const total = open.length;
  try {
    for (let sends = 0, pause = MIN_RETRY_MS; sends < MAX_SENDS; sends++, pause = Math.min(MAX_RETRY_MS, pause * 2)) {
      open = open.filter(([address]) => !isExcluded(address));
      if (open.length === 0 || !shouldContinue()) break;
      await session.wire.write(Object.fromEntries(open), shouldContinue);
      found = await session.wire.read(open.map(([address]) => address));
      open = open.filter(([address, wanted]) => !matches(session, address, wanted, found[address]));
      onProgress?.(total - open.length);
      if (open.length === 0 || open.every(([address]) => refused.has(address))) break;
      await new Promise((resolve) => setTimeout(resolve, pause));
    }
    // What is not where it was sent may have been moved by a hand of which the news has not arrived yet.
    if (open.length > 0 && shouldContinue()) await session.syncUpToNow();
  } finally {
    stop();
  }
  return open
    .filter(([address]) => !isExcluded(address))
    .map(([address, wanted]) => ({
      address,
      wanted,
      found: found[address] ?? null,
      why: refused.has(address)
        ? `The desk refused it: ${refused.get(address)}.`
        : found[address] === undefined || matches(session, address, found[address], valueAt(before, address))
          ? 'The desk did not accept it.'
          : 'The desk reads back a different value; it may round this setting.',
    }));
}

/** Whether what was read back is what was wanted, within half a step. */
export function matches(session: DeskMirror, address: string, wanted: Value, found: Value | undefined): boolean {
  const spec = specOf(session.profile, address);
  return spec !== undefined && sameValue(spec, wanted, found);
}
