import { LRUCache } from 'lru-cache';

import type { Channels } from '@old-echo/core/sound/recording';

import { allocateShared } from './shared-samples';

/** Worked out sound that is kept, in bytes: about eighty channels of half a minute. */
export const KEPT_BYTES = 512 * 1024 * 1024;
/** Memory that is held ready to be used again, in bytes. */
const SPARE = 128 * 1024 * 1024;

const bytesOf = (channels: Channels): number => channels.reduce((sum, channel) => sum + channel.byteLength, 0);

/**
 * LRU cache of rendered audio. Evicted buffers are reused, since fresh shared memory is slow to get from two threads at once.
 */
export class RenderCache {
  private readonly sounds: LRUCache<string, Channels>;
  /** What had to go, but may still be read by somebody. */
  private readonly gone: Float32Array[] = [];
  private readonly free: Float32Array[] = [];

  /** @param kept bytes of sound, @param most bytes of memory that is held ready */
  constructor(
    kept = KEPT_BYTES,
    private readonly most = SPARE,
  ) {
    this.sounds = new LRUCache({
      maxSize: kept,
      sizeCalculation: (channels) => Math.max(1, bytesOf(channels)),
      dispose: (channels) => {
        this.gone.push(...channels);
        this.trim(this.gone);
      },
    });
  }

  get(key: string): Channels | undefined {
    return this.sounds.get(key);
  }

  set(key: string, channels: Channels): void {
    this.sounds.set(key, channels);
  }

  /** Says that nobody reads or writes any sound now, so that the memory of what had to go may be written over. */
  rest(): void {
    this.free.push(...this.gone.splice(0));
    this.trim(this.free);
  }

  /** Forgets everything. */
  clear(): void {
    this.sounds.clear();
    this.gone.length = 0;
    this.free.length = 0;
  }

  /** Leaves what is too much to whoever collects what nobody holds. */
  private trim(held: Float32Array[]): void {
    while (bytesOf(held) > this.most) held.shift();
  }

  /** Memory for a window: what was used before, and fresh where there is none. */
  allocate(frames: number): Float32Array {
    const at = this.free.findIndex(({ length }) => length === frames);
    const [used = allocateShared(frames)] = at < 0 ? [] : this.free.splice(at, 1);
    return used;
  }
}
