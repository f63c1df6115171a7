import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import canonicalize from 'canonicalize';

import type { State, StripState } from './state';

/**
 * SHA-256 (FIPS 180-4) over the RFC 8785 canonical JSON of a value, as 64 hexadecimal digits.
 * Equal fingerprints mean equal values, whatever the order of their keys.
 */
export function fingerprint(value: unknown): string {
  const text = canonicalize(value);
  if (text === undefined) throw new TypeError('only JSON values have a fingerprint');
  return hashOf(text);
}

const hashOf = (text: string): string => bytesToHex(sha256(utf8ToBytes(text)));

/** The canonical JSON of settings. None of them holds others, so that it takes a fraction of the time that it takes of any value. */
function canonicalStrip(strip: StripState): string {
  if (Object.values(strip).some((value) => typeof value === 'number' && !Number.isFinite(value)))
    throw new TypeError('only JSON values have a fingerprint');
  return JSON.stringify(strip, Object.keys(strip).sort());
}

const known = new WeakMap<StripState, string>();

/** A strip's fingerprint. Remembered per object, since states are never changed in place. */
export function stripFingerprint(strip: StripState): string {
  let print = known.get(strip);
  if (print === undefined) {
    print = hashOf(canonicalStrip(strip));
    known.set(strip, print);
  }
  return print;
}

/** Every strip's fingerprint: what a scene is stored as. */
export const stripFingerprints = (state: State): Record<string, string> =>
  Object.fromEntries(Object.entries(state).map(([strip, settings]) => [strip, stripFingerprint(settings)]));
