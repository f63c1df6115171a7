import type { LinkTrial } from '../../src/desk/link-trial';
import { describeLinkTrial } from '../../src/phrases/describe-link-trial';

const WELL: LinkTrial = {
  desk: { profileId: 'skiff-16', name: 'Skiff 16' },
  why: '',
  roundTrip: { median: 0.4, worst: 1.2 },
  packets: 20,
  lost: 0,
  settings: 6432,
  answered: 6432,
  unanswered: 0,
  unasked: 0,
  missing: [],
  unfit: [],
};

test.each<[string, Partial<LinkTrial>, string, string, string[]]>([
  [
    'all is well',
    {},
    'done',
    'Skiff 16 answers',
    ['There and back in 0.4 ms, at worst 1.2 ms.', 'No packet was lost.', 'All 6,432 settings answered.'],
  ],
  [
    'nothing answers',
    { desk: null, why: 'Nothing answers at 10.0.0.7:9000.' },
    'stop',
    'Nothing answers at 10.0.0.7:9000.',
    ['Check that it is on, its cable, and the address.'],
  ],
  [
    'another model answers',
    { why: 'A Skiff 16 answers at 10.0.0.7:9000, not a Quay 48.' },
    'stop',
    'A Skiff 16 answers at 10.0.0.7:9000, not a Quay 48.',
    ['Choose its model, or the address of another desk.'],
  ],
  [
    'one packet in ten is lost',
    { lost: 2 },
    'care',
    'Skiff 16 answers',
    [
      'There and back in 0.4 ms, at worst 1.2 ms.',
      '2 of 20 packets lost: check the network.',
      'All 6,432 settings answered.',
    ],
  ],
  ['one packet in twenty is lost', { lost: 1 }, 'done', 'Skiff 16 answers', expect.anything() as string[]],
  [
    'some do not answer, and one answers what its range does not hold',
    {
      answered: 6424,
      unanswered: 7,
      missing: ['in.1/a/a', 'in.1/a/b', 'in.1/a/c', 'in.1/a/d', 'in.1/a/e', 'in.1/a/f', 'in.1/a/g'],
      unfit: [{ address: 'in.3/fader/level', why: 'must be from −90 to 0' }],
    },
    'care',
    'Skiff 16 answers',
    [
      'There and back in 0.4 ms, at worst 1.2 ms.',
      'No packet was lost.',
      '6,424 of 6,432 settings answered with a value that fits.',
      '7 did not answer: in.1/a/a, in.1/a/b, in.1/a/c, in.1/a/d, in.1/a/e, 2 more.',
      '1 answered outside of its range: in.3/fader/level (must be from −90 to 0).',
    ],
  ],
])('a trial in which %s', (_, more, verdict, title, lines) => {
  expect(describeLinkTrial({ ...WELL, ...more })).toEqual({ verdict, title, lines });
});
