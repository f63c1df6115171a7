import type * as Libflac from 'libflacjs/dist/libflac.min.wasm.js';

type Flac = typeof Libflac;
let loaded: Promise<Flac> | undefined;

/** libFLAC, once it is there. */
export const libflac = (): Promise<Flac> => (loaded ??= load());

async function load(): Promise<Flac> {
  // Where there is a fetch it takes this thread for a page, and asks the web for its code.
  const { fetch } = globalThis;
  Reflect.deleteProperty(globalThis, 'fetch');
  try {
    const { default: flac } = (await import('libflacjs/dist/libflac.min.wasm.js')) as { default: Flac };
    if (!flac.isReady()) await new Promise<void>((ready) => flac.on('ready', () => ready()));
    return flac;
  } finally {
    globalThis.fetch = fetch;
  }
}
