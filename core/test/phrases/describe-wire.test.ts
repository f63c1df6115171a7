import { loggedMessage } from '@old-echo/testing/logged-message';
import { skiff } from '@old-echo/testing/profiles';

import type { LoggedMessage } from '../../src/desk/logged-message';
import { wireArguments, wireMeaning } from '../../src/phrases/describe-wire';

const message = (more: Partial<LoggedMessage>) => loggedMessage('from the desk', '/x', more);

test.each<[Partial<LoggedMessage>, string]>([
  [{ args: [-6.5, 3, 'Wren vox', true] }, '-6.5, 3, "Wren vox", true'],
  [{ args: [] }, ''],
  [{ address: '', args: [1] }, '1 byte'],
  [{ address: '', args: [1400] }, '1,400 bytes'],
])('the arguments of %j', (more, expected) => {
  expect(wireArguments(message(more))).toBe(expected);
});

test('a message is told by the strip, the setting and its value', () => {
  const settings = [
    { setting: 'in.7/fader/level', value: -12 },
    { setting: 'in.7/mute/on', value: true },
    { setting: 'in.7/eq/low/gain', value: null },
  ];
  expect(wireMeaning(message({ settings }), skiff).split(' · ')).toEqual([
    'Input 7 Fader −12.0 dB',
    'Input 7 Mute on',
    'Input 7 EQ low gain: not a value it can have',
  ]);
});
