import { readFileSync, statSync } from 'node:fs';

import { Fault } from '@old-echo/core/fault/fault';
import { readWav } from '@old-echo/core/signal/wav';
import { measureLoudness } from '@old-echo/core/sound/loudness-meter';

/** The largest file that is read whole, in bytes. */
const LARGEST = 1_000_000_000;

/** Prints the loudness of one WAV file as a JSON object. */
function measure(file: string | undefined): void {
  if (!file) throw new Fault('refused-input', 'Which file?', 'npm run -s measure -- FILE.wav');
  const size = statSync(file, { throwIfNoEntry: false })?.size;
  if (size === undefined) throw new Fault('refused-input', `There is no file ${file}.`, 'Check its name.');
  if (size > LARGEST) throw new Fault('refused-input', `${file} is larger than 1 GB.`, 'Cut it into parts.');
  const { integrated, range, momentaryMax, shortTermMax, truePeak } = measureLoudness(readWav(readFileSync(file)));
  const round = (value: number | null) => (value === null ? null : Number(value.toFixed(3)));
  console.log(
    JSON.stringify({
      integrated: round(integrated),
      range: round(range),
      momentaryMax: round(momentaryMax),
      shortTermMax: round(shortTermMax),
      truePeak: round(truePeak),
    }),
  );
}

try {
  measure(process.argv[2]);
} catch (error) {
  console.error(error instanceof Fault ? `${error.message} ${error.advice}` : error);
  process.exitCode = 1;
}
