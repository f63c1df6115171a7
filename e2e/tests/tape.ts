import type { Page } from '@playwright/test';

/** What a page played: samples of its left channel in the audio context's own time, and when keys were pressed, or it was touched. */
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
      this.port.postMessage([currentFrame, left ? left.slice() : new Float32Array(128)]);
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
  const note = (key, timeStamp) => {
    if (!tape.context) return;
    const frame = Math.round(tape.context.currentTime * tape.context.sampleRate);
    tape.keys.push({ key, frame, lateness: (performance.now() - timeStamp) / 1000 });
  };
  document.addEventListener('keydown', ({ key, timeStamp }) => note(key, timeStamp), true);
  document.addEventListener('pointerup', ({ timeStamp }) => note('pointer', timeStamp), true);
}`;

/** Has everything recorded that a page plays. Before the page is opened. */
export async function record(page: Page): Promise<void> {
  await page.addInitScript(TAP);
}

/** Waits until the recorder is there. */
export const isRecording = (page: Page) => page.waitForFunction('window.tape.node !== undefined');

/** Waits until something sounds. */
export const isSounding = (page: Page) =>
  page.waitForFunction('window.tape.blocks.at(-1)?.[1].some((sample) => sample !== 0)');

/** What was recorded so far. */
export const tapeOf = (page: Page): Promise<Tape> =>
  page.evaluate(`(() => {
    const { blocks, keys, context } = window.tape;
    const [from, to] = [blocks[0][0], blocks.at(-1)[0] + blocks.at(-1)[1].length];
    // Each where it belongs: a browser may leave some out while nothing is to be played.
    const samples = new Float32Array(to - from);
    for (const [frame, block] of blocks) samples.set(block, frame - from);
    return {
      from,
      samples: [...samples],
      keys,
      latency: context.baseLatency + (context.outputLatency || 0),
    };
  })()`);

/** Runs in the page: the left channel of a mix, from its pieces, as the browser unpacks them; as base64, which is soon over here. */
const UNPACKED = `async (pieces) => {
  const context = new OfflineAudioContext(2, 1, 48000);
  const samples = [];
  for (let piece = 0; ; ) {
    const answer = await fetch(pieces + piece);
    // Not rendered that far yet.
    if (answer.status === 503) {
      await new Promise((later) => setTimeout(later, 100));
      continue;
    }
    if (!answer.ok) break;
    piece++;
    const sound = await context.decodeAudioData(await answer.arrayBuffer());
    const by = 2 ** Number(answer.headers.get('Old-Echo-Halved'));
    samples.push(sound.getChannelData(0).map((sample) => sample * by));
  }
  const reader = new FileReader();
  const read = new Promise((done) => (reader.onload = done));
  reader.readAsDataURL(new Blob(samples));
  await read;
  return reader.result.split(',')[1];
}`;

/** The left channel of each mix that the page loads, in the order of A and B. */
export async function loadedMixes(page: Page, act: () => Promise<void>): Promise<Float32Array[]> {
  const mixes = new Set<string>();
  const note = (request: { url: () => string }) => {
    const [, pieces] = /^(.*\/pieces\/)\d+/.exec(request.url()) ?? [];
    if (pieces) mixes.add(pieces);
  };
  page.on('request', note);
  await act();
  page.off('request', note);
  const found: Float32Array[] = [];
  for (const pieces of mixes)
    found.push(
      floatsOf(Buffer.from(await page.evaluate<string>(`(${UNPACKED})(${JSON.stringify(pieces)})`), 'base64')),
    );
  return found;
}

const floatsOf = (bytes: Buffer): Float32Array => new Float32Array(Uint8Array.from(bytes).buffer);

/** How far what is on tape may be from what was played, −100 dBFS: a browser places sounds to a part of a sample. */
const NEAR = 1e-5;
const isNear = (one: number | undefined, other: number | undefined): boolean =>
  one !== undefined && other !== undefined && Math.abs(one - other) < NEAR;

/** How many samples are looked at to find a place. */
const PROBE = 512;

/** Where in a sound the tape is at a frame: the frame at which the sound would have begun; undefined where it is not it. */
export function beginningOf(tape: Tape, sound: Float32Array, frame: number): number | undefined {
  const start = frame - tape.from;
  for (let at = 0; at + PROBE <= sound.length; at++) {
    let i = 0;
    while (i < PROBE && isNear(sound[at + i], tape.samples[start + i])) i++;
    if (i === PROBE) return frame - at;
  }
  return undefined;
}

/** The frame from which on the tape is a sound that began at `beginning` no more; undefined where it is to its end. */
export function leavesAt(tape: Tape, sound: Float32Array, beginning: number, frame: number): number | undefined {
  for (let at = frame; at < tape.from + tape.samples.length; at++)
    if (!isNear(tape.samples[at - tape.from], sound[at - beginning])) return at;
  return undefined;
}

/** Samples of nothing that are a pause. */
const PAUSE = 64;

/** The first frame that sounds after the first pause behind a frame. */
export function soundsAgainAt(tape: Tape, frame: number): number {
  let [at, silent] = [frame, 0];
  const isThere = () => at < tape.from + tape.samples.length;
  const isSilent = () => tape.samples[at - tape.from] === 0;
  for (; silent < PAUSE && isThere(); at++) silent = isSilent() ? silent + 1 : 0;
  while (isSilent() && isThere()) at++;
  return at;
}
