import { loggedMessage as message } from '@old-echo/testing/logged-message';

import { wireNews } from '../../src/desk/wire-news';

const fader = (value: number | null) => ({ args: [0], settings: [{ setting: 'in.1/fader/level', value }] });

test('what changes is told once; questions, signs of life, and answers that say what is known are not', () => {
  const messages = [
    message('to the desk', '/there'),
    message('from the desk', '/there/yes'),
    message('to the desk', '/row/01/loud'),
    message('from the desk', '/row/01/loud', fader(-6)),
    message('from the desk', '/row/01/loud', fader(-6)),
    message('from the desk', '/row/01/loud', fader(-7)),
    message('from the desk', '/link/pong', { args: [1, 2, 3] }),
    message('from the desk', '/lamp', { args: [1] }),
    message('to the desk', '/row/01/loud', fader(-9)),
    message('from the desk', '/row/01/loud', fader(-9)),
    message('from the desk', '/row/01/loud', fader(null)),
  ];
  const { news, told } = wireNews(messages, new Map());
  expect(news).toEqual([3, 5, 7, 8, 10].map((i) => messages[i]));
  // What came before counts.
  expect(wireNews([messages[10]!, messages[3]!], told).news).toEqual([messages[3]]);
});
