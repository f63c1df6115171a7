import type { BitDepth } from '../signal/wav-header';
import type { Loudness } from '../sound/loudness';

/** Characters of a line's name, and of each of its values. */
const [NAME, VALUE] = [22, 14];

/** How loud a mix is as each of some files, as a few lines of plain text to go with them. */
export function loudnessReport(
  name: string,
  files: readonly { readonly depth: BitDepth; readonly loudness: Loudness }[],
): string {
  const line = (what: string, values: readonly string[]) =>
    `${what.padEnd(NAME)}${values.map((value) => value.padStart(VALUE)).join('')}`;
  const measured = (
    what: string,
    key: 'integrated' | 'range' | 'momentaryMax' | 'shortTermMax' | 'truePeak',
    unit: string,
  ) =>
    line(
      what,
      files.map(({ loudness }) => {
        const value = loudness[key];
        return value === null ? '–' : `${value.toFixed(1)} ${unit}`;
      }),
    );
  return [
    name,
    '',
    line(
      'WAV file',
      files.map(({ depth }) => (depth === 'float' ? depth : `${depth}-bit`)),
    ),
    measured('Integrated loudness', 'integrated', 'LUFS'),
    measured('Loudness range', 'range', 'LU'),
    measured('Momentary max', 'momentaryMax', 'LUFS'),
    measured('Short-term max', 'shortTermMax', 'LUFS'),
    measured('True peak', 'truePeak', 'dBTP'),
    '',
    'Measured on the files as written, dither included, to ITU-R BS.1770-4 and EBU Tech 3342.',
    'Rendered through a desk model.',
    '',
  ].join('\n');
}
