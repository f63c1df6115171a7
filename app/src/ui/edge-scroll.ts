/** How near to an edge a finger makes the list go along, in pixels. */
const EDGE = 64;
/** How far a list goes in a frame at most, in pixels: 17 rows in a second of 60 frames. */
const MOST = 14;

export interface EdgeScroll {
  /** Where the finger is, in pixels down from the top of the page. */
  readonly reach: (y: number) => void;
  /** How far the list has gone since, in pixels down. */
  readonly gone: () => number;
  readonly end: () => void;
}

/**
 * Takes a list along while a finger drags towards its upper or lower edge, the faster the nearer.
 * @param within an element of the list
 * @param start where the finger began, in pixels down from the top of the page
 * @param onGo called whenever the list has gone on by itself
 */
export function edgeScroll(within: Element, start: number, onGo: () => void): EdgeScroll {
  const list = scrollerOf(within);
  if (!list) return { reach: () => undefined, gone: () => 0, end: () => undefined };
  const from = list.scrollTop;
  let [speed, frame] = [0, 0];
  const go = () => {
    const before = list.scrollTop;
    list.scrollTop += speed;
    if (list.scrollTop !== before) onGo();
    frame = speed === 0 ? 0 : requestAnimationFrame(go);
  };
  return {
    reach: (y) => {
      const { top, bottom } = list.getBoundingClientRect();
      // One that begins near an edge and has not gone anywhere yet means no more than its own row.
      const below = y > start + EDGE / 2 ? Math.max(0, y - (bottom - EDGE)) : 0;
      const above = y < start - EDGE / 2 ? Math.max(0, top + EDGE - y) : 0;
      speed = Math.round(MOST * Math.min(1, Math.max(below, above) / EDGE)) * (above > 0 ? -1 : 1);
      if (speed !== 0 && frame === 0) frame = requestAnimationFrame(go);
    },
    gone: () => list.scrollTop - from,
    end: () => cancelAnimationFrame(frame),
  };
}

/** What scrolls around an element, up and down. */
function scrollerOf(element: Element): Element | null {
  for (let around = element.parentElement; around; around = around.parentElement)
    if (around.scrollHeight > around.clientHeight && /auto|scroll/.test(getComputedStyle(around).overflowY))
      return around;
  return null;
}
