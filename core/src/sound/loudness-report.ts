import type { Measured } from '../contracts/sound';

/** How loud a mix is, as a few lines of plain text to go with its file. */
export function loudnessReport(name: string, { loudness, seconds }: Measured): string {
  const { integrated, range, momentaryMax, shortTermMax, truePeak } = loudness;
  const line = (what: string, value: number | null, unit: string) =>
    `${what.padEnd(28)}${value === null ? '–' : `${value.toFixed(1)} ${unit}`}`;
  return [
    name,
    '',
    line('Length', seconds, 's'),
    line('Integrated loudness', integrated, 'LUFS'),
    line('Loudness range', range, 'LU'),
    line('Loudest 400 ms', momentaryMax, 'LUFS'),
    line('Loudest 3 s', shortTermMax, 'LUFS'),
    line('True peak', truePeak, 'dBTP'),
    '',
    'Measured to ITU-R BS.1770-4 and EBU Tech 3342, before bits were taken off. Mixed by a model of a desk.',
    '',
  ].join('\n');
}
