import { edgeScroll } from '../../src/ui/edge-scroll';

/** A list of 100 rows of 56 pixels, of which 500 pixels are seen from 100 on. */
function list() {
  const around = document.createElement('div');
  const row = around.appendChild(document.createElement('div'));
  Object.defineProperties(around, { scrollHeight: { value: 5600 }, clientHeight: { value: 500 } });
  // As the browser: no further than the list is long.
  let top = 0;
  Object.defineProperty(around, 'scrollTop', {
    get: () => top,
    set: (to: number) => (top = Math.max(0, Math.min(5100, to))),
  });
  around.style.overflowY = 'auto';
  around.getBoundingClientRect = () => ({ top: 100, bottom: 600 }) as DOMRect;
  return { around, row };
}

let frames: (() => void)[] = [];
const next = (count: number) => {
  for (let i = 0; i < count; i++) {
    const due = frames;
    frames = [];
    for (const frame of due) frame();
  }
};
beforeEach(() => {
  frames = [];
  window.requestAnimationFrame = (frame) => frames.push(() => frame(0));
  window.cancelAnimationFrame = () => (frames = []);
});

const dragged = (start: number, y: number, scrolled = 0) => {
  const { around, row } = list();
  around.scrollTop = scrolled;
  const went = jest.fn();
  const drag = edgeScroll(row, start, went);
  drag.reach(y);
  return { around, drag, went };
};

test('near the lower edge the list goes down, the faster the nearer, for as long as the finger is there', () => {
  const [near, nearer] = [dragged(300, 560), dragged(300, 599)];
  next(10);
  expect(near.drag.gone()).toBeGreaterThan(0);
  expect(nearer.drag.gone()).toBeGreaterThan(near.drag.gone());
  expect(near.went).toHaveBeenCalledTimes(10);
  near.drag.reach(400);
  nearer.drag.reach(400);
  next(1);
  const rests = near.drag.gone();
  next(10);
  expect(near.drag.gone()).toBe(rests);
});

test('near the upper edge it goes up, and no further than to its first row', () => {
  const { around, drag, went } = dragged(300, 105, 40);
  next(20);
  expect([around.scrollTop, drag.gone()]).toEqual([0, -40]);
  expect(went.mock.calls.length).toBeLessThan(20);
});

test.each([
  ['in the middle', 300, 350],
  ['which began near the edge and went nowhere', 580, 590],
  ['which began near the lower edge and goes up', 580, 540],
])('a finger %s leaves it', (_, start, y) => {
  const { drag } = dragged(start, y);
  next(5);
  expect(drag.gone()).toBe(0);
});

test('once it has ended nothing goes on', () => {
  const { drag } = dragged(300, 599);
  next(3);
  const gone = drag.gone();
  drag.end();
  next(10);
  expect(drag.gone()).toBe(gone);
});

test('without anything that scrolls around it, nothing happens', () => {
  const drag = edgeScroll(document.createElement('div'), 0, jest.fn());
  drag.reach(599);
  next(3);
  expect(drag.gone()).toBe(0);
});
