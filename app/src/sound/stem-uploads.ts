import { STEM_ROUTES } from '@old-echo/core/contracts/routes/sound-routes';
import { MAX_STEM_BYTES, stemTooLargeFault } from '@old-echo/core/contracts/sound';
import { plural } from '@old-echo/core/phrases/format-value';

import { addressOf } from '../store/ask';
import { sendFile } from '../store/upload-file';

/** A file that is on its way to a strip, waits for it, or could not be attached. */
export interface Upload {
  readonly strip: string;
  readonly file: File;
  /** 0 … 1; undefined while it waits its turn. */
  readonly part: number | undefined;
  /** What went wrong, in a sentence; empty while it goes well. */
  readonly why: string;
}

/** A file, and the strip it is for. */
export type Placed = Pick<Upload, 'strip' | 'file'>;

/** What is on its way, and how many of the files that were chosen together are attached. */
interface Uploads {
  readonly uploads: readonly Upload[];
  readonly progress: { readonly done: number; readonly of: number };
}

const NONE: Uploads['progress'] = { done: 0, of: 0 };
/** So many are on their way at once: while the server looks through one, the next arrives. */
const AT_ONCE = 2;

/** Sends files to the strips of a production, two at a time, whichever screen is open; each can be cancelled, and all of them. */
export class StemUploads {
  private now: Uploads = { uploads: [], progress: NONE };
  private queue: readonly Placed[] = [];
  /** What breaks each off that is on its way, by its strip. */
  private readonly sending = new Map<string, () => void>();
  private readonly listeners = new Set<() => void>();

  /**
   * @param onAttached is called when one is attached
   * @param say takes what is said once many are through
   */
  constructor(
    private readonly production: string,
    private readonly onAttached: () => void,
    private readonly say: (words: string) => void,
  ) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly read = (): Uploads => this.now;

  /** Sends files after those that wait; the newest file for a strip takes the place of one that waits or is on its way there. */
  send(files: readonly Placed[]): void {
    const strips = new Set(files.map(({ strip }) => strip));
    const waiting = this.queue.filter(({ strip }) => !strips.has(strip));
    const { done, of } = this.now.progress;
    const added = waiting.length + files.length - this.queue.length;
    this.queue = [...waiting, ...files];
    this.show({
      uploads: [
        ...this.now.uploads.filter(({ strip }) => !strips.has(strip)),
        ...files.map(({ strip, file }) => ({ strip, file, part: undefined, why: '' })),
      ],
      progress: { done, of: of + added },
    });
    for (const strip of strips) this.sending.get(strip)?.();
    for (let i = 0; i < AT_ONCE; i++) void this.sendNext();
  }

  /** Breaks off what is on its way to a strip, or takes away what waits or failed there. */
  cancel(strip: string): void {
    const abort = this.sending.get(strip);
    if (abort) return abort();
    const left = this.queue.filter((one) => one.strip !== strip);
    const { done, of } = this.now.progress;
    const progress = { done, of: of - (this.queue.length - left.length) };
    this.queue = left;
    this.show({ uploads: this.now.uploads.filter((one) => one.strip !== strip), progress });
  }

  cancelAll(): void {
    this.queue = [];
    this.show({ uploads: this.now.uploads.filter(({ part }) => part !== undefined), progress: NONE });
    for (const abort of this.sending.values()) abort();
  }

  private readonly askFirst = (event: Event): void => event.preventDefault();

  private async sendNext(): Promise<void> {
    // Another file for a strip waits until the one before has broken off.
    const next = this.queue.find(({ strip }) => !this.sending.has(strip));
    if (!next || this.sending.size >= AT_ONCE) return;
    this.queue = this.queue.filter((one) => one !== next);
    const end = await this.sendOne(next);
    const { progress } = this.now;
    const done = progress.done + (end === 'attached' ? 1 : 0);
    const of = progress.of - (end === 'cancelled' ? 1 : 0);
    const isOver = this.sending.size === 0 && this.queue.length === 0;
    if (isOver && of > 1 && done > 0) this.say(`${plural(done, 'stem')} attached.`);
    this.show({ ...this.now, progress: isOver ? NONE : { done, of } });
    await this.sendNext();
  }

  private async sendOne({ strip, file }: Placed): Promise<'attached' | 'cancelled' | 'failed'> {
    if (file.size > MAX_STEM_BYTES) {
      const { message, advice } = stemTooLargeFault(file.size);
      this.change(file, { part: 0, why: `${message} ${advice}` });
      return 'failed';
    }
    const query = { name: file.name, modified: file.lastModified };
    const { ended, abort } = sendFile({
      method: 'PUT',
      url: addressOf(STEM_ROUTES.attachStem, { params: { production: this.production, strip }, query }),
      type: 'audio/wav',
      file,
      onPart: (part) => this.change(file, { part }),
    });
    this.sending.set(strip, abort);
    this.change(file, { part: 0 });
    const sent = await ended;
    this.sending.delete(strip);
    this.change(file, sent && 'why' in sent ? sent : null);
    if (!sent) return 'cancelled';
    if ('why' in sent) return 'failed';
    this.onAttached();
    return 'attached';
  }

  /** What took the place of a file on its strip meanwhile is another one. */
  private change(file: File, by: Partial<Upload> | null): void {
    const uploads = this.now.uploads.flatMap((one) => (one.file !== file ? [one] : by ? [{ ...one, ...by }] : []));
    this.show({ ...this.now, uploads });
  }

  private show(now: Uploads): void {
    this.now = now;
    // A page that is closed breaks all of it off.
    const isAtWork = this.sending.size > 0 || this.queue.length > 0;
    window[isAtWork ? 'addEventListener' : 'removeEventListener']('beforeunload', this.askFirst);
    for (const listener of [...this.listeners]) listener();
  }
}
