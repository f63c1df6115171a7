import { LRUCache } from 'lru-cache';
import type { Logger } from 'pino';

import type { ChangePage } from '@old-echo/core/contracts/person';
import type { Route } from '@old-echo/core/contracts/route';
import { ROUTES } from '@old-echo/core/contracts/routes/all-routes';
import { truncate } from '@old-echo/core/fault/text-shapes';

import type { Database } from '../database/connect';
import { idAt, madeAt, newId } from '../database/new-id';
import type { ChangeRow } from '../database/tables';
import type { Asker } from './who-asks';

/** How long it is kept who changed what, in ms. */
const KEPT_MS = 180 * 86_400_000;
/** What somebody does again and again within this, to the same thing, is one change: a fader that is drawn. In ms. */
const SAME_MS = 10_000;
/** How many changes are on one page. */
const PAGE_SIZE = 100;
/** How many characters of a name are kept. */
const LONGEST_NAME = 60;

const nameOf = ({ method, path }: Pick<Route, 'method' | 'path'>): string => `${method} ${path}`;

const DOES = new Map(
  Object.values(ROUTES).flatMap((wing) => Object.values(wing).map((route: Route) => [nameOf(route), route.does])),
);

/** What things are called whose ids stand in an address, by how that begins. */
const NAMED = ['desks', 'productions', 'versions', 'scenes', 'presets', 'people', 'devices'] as const;

/** Who changed what, and from which device. */
export class ChangeLog {
  private readonly lately = new LRUCache<string, true>({ max: 1000, ttl: SAME_MS });

  constructor(
    private readonly db: Database,
    private readonly log: Logger,
  ) {}

  /**
   * Begins to keep that something is changed: finds out what it is called as long as it is there.
   * @param id the first that stands in the address
   * @returns what keeps it once it was done, and when the name is known; undefined where the same was kept just now
   */
  begin(
    asker: Asker,
    route: Route,
    id: string | undefined,
  ): { named: Promise<string>; keep: () => Promise<void> } | undefined {
    const [person, device] = typeof asker === 'object' ? [asker.person.name, asker.device.name] : ['', ''];
    const key = JSON.stringify([person, device, nameOf(route), id]);
    if (this.lately.has(key)) return undefined;
    // What cannot be found out is no reason not to do it.
    const named = this.calledBy(route, id).catch(() => '');
    const keep = async () => {
      this.lately.set(key, true);
      const about = await named;
      this.log.info({ person, device, route: nameOf(route), about }, 'changed');
      await this.db('changes').insert({ id: newId(), person, device, route: nameOf(route), about });
    };
    return { named, keep };
  }

  private async calledBy({ path }: Route, id: string | undefined): Promise<string> {
    const table = NAMED.find((name) => path.startsWith(`/${name}/`));
    if (!table || id === undefined) return '';
    const row: { name?: string } | undefined = await this.db(table).where({ id }).first('name');
    return truncate(row?.name ?? '', LONGEST_NAME);
  }

  /** Forgets what is older than half a year. */
  forgetOld = (now: Date): Promise<number> =>
    this.db('changes')
      .where('id', '<', idAt(new Date(now.getTime() - KEPT_MS)))
      .delete();

  /** @param before the id of the change that those asked for came before */
  async page(before: string | undefined): Promise<ChangePage> {
    const rows: ChangeRow[] = await this.db('changes')
      .where((q) => before !== undefined && q.where('id', '<', before))
      .orderBy('id', 'desc')
      .limit(PAGE_SIZE);
    return {
      changes: rows.map(({ id, person, device, route, about }) => ({
        id,
        at: madeAt(id).toISOString(),
        person,
        device,
        does: DOES.get(route) ?? route,
        about,
      })),
      before: rows.length === PAGE_SIZE ? (rows.at(-1)?.id ?? null) : null,
    };
  }
}
