import type { WebSocket } from 'ws';

import type { Present } from '@old-echo/core/contracts/live';
import { isRecord } from '@old-echo/core/fault/is-record';

/** Who opens a page: somebody at this machine, or somebody on a device that was let in; nobody who may. */
export type Opener =
  'this machine' | { readonly id: string; readonly name: string; readonly person: string } | undefined;

/** A path of the app, with nothing in it that is not one. */
const PATH = /^\/[\w\-./?=&,%]{0,200}$/;
/** Changes are gathered for this long before they are told, in ms: whoever goes through pages is told of once. */
const GATHER_MS = 200;

interface Here {
  readonly who: Exclude<Opener, undefined>;
  readonly at: string;
}

const idOf = ({ who }: Here): string => (who === 'this machine' ? '' : who.id);

/** Who has pages open, on which devices, and what they look at. */
export class Presence {
  private readonly pages = new Map<WebSocket, Here>();
  /** What each page was told last. */
  private readonly known = new WeakMap<WebSocket, string>();
  private timer: NodeJS.Timeout | undefined;

  /** @param tell tells a page who else is here */
  constructor(private readonly tell: (page: WebSocket, others: readonly Present[]) => void) {}

  came(page: WebSocket, who: Here['who']): void {
    this.pages.set(page, { who, at: '/' });
    this.known.set(page, '[]');
    page.on('message', (data: Buffer) => this.hear(page, data));
    page.on('close', () => {
      this.pages.delete(page);
      this.change();
    });
    this.change();
  }

  /** The devices that pages are open on. */
  devices(): string[] {
    return [...new Set([...this.pages.values()].map(idOf))].filter((id) => id !== '');
  }

  /** The pages that are open on some devices. */
  pagesOn(ids: readonly string[]): WebSocket[] {
    return [...this.pages].filter(([, here]) => ids.includes(idOf(here))).map(([page]) => page);
  }

  close(): void {
    clearTimeout(this.timer);
  }

  /** A page says where it is; whatever else it says is nothing. */
  private hear(page: WebSocket, data: Buffer): void {
    const here = this.pages.get(page);
    const at = pathIn(data);
    if (!here || at === undefined || here.at === at) return;
    // What was said last is what its device looks at.
    this.pages.delete(page);
    this.pages.set(page, { ...here, at });
    this.change();
  }

  private change(): void {
    this.timer ??= setTimeout(() => {
      this.timer = undefined;
      const latest = new Map([...this.pages.values()].map((here) => [idOf(here), here]));
      for (const [page, own] of this.pages) {
        const others = [...latest.values()].filter((here) => idOf(here) !== idOf(own)).map(presentOf);
        const text = JSON.stringify(others);
        if (this.known.get(page) === text) continue;
        this.known.set(page, text);
        this.tell(page, others);
      }
    }, GATHER_MS);
  }
}

const presentOf = ({ who, at }: Here): Present =>
  who === 'this machine' ? { person: '', device: '', at } : { person: who.person, device: who.name, at };

function pathIn(data: Buffer): string | undefined {
  try {
    const said: unknown = JSON.parse(data.toString());
    return isRecord(said) && typeof said['at'] === 'string' && PATH.test(said['at']) ? said['at'] : undefined;
  } catch {
    return undefined;
  }
}
