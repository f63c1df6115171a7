import { parse } from 'csv-parse/sync';
import { stringify } from 'csv-stringify/sync';
import express, { type Router } from 'express';
import { createPatch } from 'rfc6902';

import { SHEET_ROUTES } from '@old-echo/core/contracts/routes/file-routes';
import type { Profile } from '@old-echo/core/desk/profile';
import { defaultState, type State } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { inputList, parseInputList, STRIP_LIST_COLUMNS } from '@old-echo/core/files/input-list';

import type { Database } from '../database/connect';
import { loadState } from '../desk/scene-states';
import type { ServerContext } from '../desk/server-context';
import { fileName } from '../http/safe-file-name';
import { serveRoutes } from '../http/serve-routes';
import { loadParts } from '../library/part-store';
import { profileOfProduction } from '../scenes/production-store';
import { outboardOfScene } from '../scenes/scene-outboard';
import { sceneView } from '../scenes/scene-store';
import { differencesSheet, recallSheet } from './recall-sheet';

/** The largest strip list that is read, in bytes. */
const LARGEST_LIST = 1_000_000;

/** What leaves Old Echo on paper and in lists: recall sheets, differences, strip lists. */
export function sheetRoutes({ db }: ServerContext): Router {
  const sceneOf = async (id: string) => {
    const { productionId, number, name, note } = await sceneView(db, id);
    const [profile, state, outboard] = await Promise.all([
      profileOfProduction(db, productionId),
      loadState(db, id),
      outboardOfScene(db, id),
    ]);
    const photos = `/api/productions/${productionId}/outboard/photos`;
    return { profile, scene: { title: `${number} ${name}`, note, state, outboard, photos } };
  };
  const twoOf = async ({ a, b }: { readonly a: string; readonly b: string }) => {
    const [one, other] = [await sceneOf(a), await sceneOf(b)];
    if (one.profile.id !== other.profile.id)
      throw new Fault('refused-input', 'These scenes are from different desk models.', 'Carry one over first.', 'b');
    return { profile: one.profile, a: one.scene, b: other.scene };
  };
  return serveRoutes(
    SHEET_ROUTES,
    {
      recallSheet: async ({ params, res }) => {
        const { profile, scene } = await sceneOf(params.id);
        res.type('html').send(recallSheet(profile, scene));
      },
      differencesSheet: async ({ query, res }) => {
        const { profile, a, b } = await twoOf(query);
        res.type('html').send(differencesSheet(profile, a, b));
      },
      differencesPatch: async ({ query, res }) => {
        const { a, b } = await twoOf(query);
        res
          .attachment(`${fileName(`${a.title} to ${b.title}`)}.json`)
          .type('application/json-patch+json')
          .send(JSON.stringify(createPatch(a.state, b.state)));
      },
      inputList: async ({ params, res }) => {
        const { profile, state } = await newestOf(db, params.production);
        const rows = inputList(profile, state, await loadParts(db, params.production));
        res
          .attachment('Strips.csv')
          .type('text/csv')
          // RFC 4180 ends lines so; what a spreadsheet would work out stays words.
          .send(
            stringify(rows, {
              header: true,
              columns: [...STRIP_LIST_COLUMNS],
              record_delimiter: '\r\n',
              escape_formulas: true,
            }),
          );
      },
      readInputList: async ({ params, req }) => {
        const { profile, state } = await newestOf(db, params.production);
        return parseInputList(profile, state, readRows(typeof req.body === 'string' ? req.body : ''));
      },
    },
    { readInputList: express.text({ type: 'text/csv', limit: LARGEST_LIST }) },
  );
}

/** The newest scene of a production, or an untouched desk. @throws Fault `not-found` */
async function newestOf(db: Database, productionId: string): Promise<{ profile: Profile; state: State }> {
  const profile = await profileOfProduction(db, productionId);
  const newest = await db('scenes')
    .where({ production_id: productionId, kind: 'scene' })
    .whereNull('binned_at')
    .orderBy('ordinal', 'desc')
    .first('id');
  return { profile, state: newest ? await loadState(db, newest.id) : defaultState(profile) };
}

/** The rows of a CSV file with a head, RFC 4180. @throws Fault `refused-input` naming the line */
function readRows(text: string): Record<string, string>[] {
  let rows: Record<string, string>[];
  try {
    rows = parse(text, {
      columns: (head: string[]) => head.map((name) => name.trim().toLowerCase()),
      bom: true,
      skip_empty_lines: true,
    });
  } catch (error) {
    throw new Fault(
      'refused-input',
      `The list cannot be read: ${error instanceof Error ? error.message : 'it is not CSV'}.`,
      'Nothing was changed. Save it as CSV with commas, and a first line that names its columns.',
    );
  }
  if (rows.length === 0 || rows[0]?.['strip'] === undefined)
    throw new Fault(
      'refused-input',
      'The list has no column called strip.',
      `Nothing was changed. Its first line names the columns: ${STRIP_LIST_COLUMNS.join(', ')}.`,
    );
  // A value that was kept from being worked out as a formula begins with an apostrophe.
  return rows.map((row) =>
    Object.fromEntries(Object.entries(row).map(([name, value]) => [name, value.replace(/^'(?=[=+\-@\t\r])/, '')])),
  );
}
