import type { Page } from '@playwright/test';

import { readWav } from '@old-echo/core/signal/wav';

/** What a page played: samples of its left channel in the audio context's own time, and when keys were pressed in it. */
export interface Tape {
  /** The frame at which the samples begin. */
  readonly from: number;
  readonly samples: readonly number[];
  readonly keys: readonly { readonly key: string; readonly frame: number; readonly lateness: number }[];
  /** Seconds from the context's time to the loudspeaker, as the browser has it. */
  readonly latency: number;
}

/** Runs in the page: everything that goes to the loudspeaker goes to a recorder as well. */
const TAP = `{
  const recorder = \`registerProcessor('tape', class extends AudioWorkletProcessor {
    process([[left]]) {
      if (left) this.port.postMessage([currentFrame, left.slice()]);
      return true;
    }
  })\`;
  const tape = (window.tape = { context: undefined, node: undefined, blocks: [], keys: [] });
  window.AudioContext = class extends window.AudioContext {
    constructor(options) {
      super(options);
      tape.context = this;
      const url = URL.createObjectURL(new Blob([recorder], { type: 'text/javascript' }));
      this.audioWorklet.addModule(url).then(() => {
        tape.node = new AudioWorkletNode(this, 'tape', { numberOfOutputs: 0 });
        tape.node.port.onmessage = ({ data }) => tape.blocks.push(data);
      });
    }
  };
  const connect = AudioNode.prototype.connect;
  AudioNode.prototype.connect = function (to, ...rest) {
    if (to === tape.context?.destination && tape.node) connect.call(this, tape.node);
    return connect.call(this, to, ...rest);
  };
  document.addEventListener('keydown', ({ key, timeStamp }) => {
    if (!tape.context) return;
    const frame = Math.round(tape.context.currentTime * tape.context.sampleRate);
    tape.keys.push({ key, frame, lateness: (performance.now() - timeStamp) / 1000 });
  }, true);
}`;

/** Has everything recorded that a page plays. Before the page is opened. */
export async function record(page: Page): Promise<void> {
  await page.addInitScript(TAP);
}

/** Waits until the recorder is there. */
export const isRecording = (page: Page) => page.waitForFunction('window.tape.node !== undefined');

/** What was recorded so far. */
export const tapeOf = (page: Page): Promise<Tape> =>
  page.evaluate(`(() => {
    const { blocks, keys, context } = window.tape;
    return {
      from: blocks[0][0],
      samples: blocks.flatMap(([, block]) => [...block]),
      keys,
      latency: context.baseLatency + (context.outputLatency || 0),
    };
  })()`);

/** The left channel of each mix that the page loads, in the order of A and B. */
export async function loadedMixes(page: Page, act: () => Promise<void>): Promise<Float32Array[]> {
  const urls: string[] = [];
  const note = (request: { url: () => string }) => {
    if (/\/(audio|sound)\.wav$/.test(request.url())) urls.push(request.url());
  };
  page.on('request', note);
  await act();
  page.off('request', note);
  return Promise.all(
    urls.map(async (url) => {
      const [left] = readWav(await (await page.request.get(url)).body()).channels;
      return left ?? new Float32Array(0);
    }),
  );
}

/** How many samples are looked at to find a place. */
const PROBE = 512;

/** Where in a sound the tape is at a frame: the frame at which the sound would have begun; undefined where it is not it. */
export function beginningOf(tape: Tape, sound: Float32Array, frame: number): number | undefined {
  const start = frame - tape.from;
  for (let at = 0; at + PROBE <= sound.length; at++) {
    let i = 0;
    while (i < PROBE && sound[at + i] === tape.samples[start + i]) i++;
    if (i === PROBE) return frame - at;
  }
  return undefined;
}

/** The frame from which on the tape is a sound that began at `beginning` no more; undefined where it is to its end. */
export function leavesAt(tape: Tape, sound: Float32Array, beginning: number, frame: number): number | undefined {
  for (let at = frame; at < tape.from + tape.samples.length; at++)
    if (tape.samples[at - tape.from] !== sound[at - beginning]) return at;
  return undefined;
}
