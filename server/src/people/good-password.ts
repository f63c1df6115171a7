import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common';

import { Fault } from '@old-echo/core/fault/fault';

/** How hard a password is to guess at least: over 10⁸ tries (as the kept package counts). */
const LEAST_SCORE = 3;

/** How many characters of it are looked at: it takes long for more, and nobody guesses that many. */
const LOOKED_AT = 64;

const guesses = new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs });

/** @throws Fault `refused-input` where it is among what everybody tries first (OWASP ASVS 4.0.3, 2.1.7) */
export function assertGoodPassword(password: string, name: string): void {
  if (guesses.check(password.slice(0, LOOKED_AT), [...name.split(/\s+/), 'old echo', 'oldecho']).score < LEAST_SCORE)
    throw new Fault(
      'refused-input',
      'This password is guessed easily.',
      'Nothing was changed. Take four words that have nothing to do with one another.',
      'password',
    );
}
