import { matchFileToStrip } from '../../src/sound/match-file-to-strip';

const strips = [
  { strip: 'in.1', name: 'Fiddle' },
  { strip: 'in.2', name: 'Fiddle room' },
  { strip: 'in.7', name: 'Frame drum' },
  { strip: 'in.12', name: 'Tam vox' },
];

test.each([
  ['Fiddle.wav', 'in.1'],
  ['lanterns_fiddle-room_v2.WAV', 'in.2'],
  ['07 something.wav', 'in.7'],
  ['Lanterns on the Quay 12.wav', 'in.12'],
  ['take 99.wav', undefined],
  ['Fiddlesticks.wav', undefined],
])('%s goes to %s', (file, strip) => {
  expect(matchFileToStrip(file, strips)).toBe(strip);
});
