import { stringify } from 'csv-stringify/sync';
import escapeHtml from 'escape-html';
import { Router } from 'express';
import { object } from 'yup';

import { parseShape } from '@old-echo/core/fault/parse-shape';
import {
  clock,
  newWishShape,
  wishEditShape,
  type NewWish,
  type WishEdit,
  type WishView,
} from '@old-echo/core/contracts/mix-note';
import { idShape } from '@old-echo/core/fault/text-shapes';

import type { Database } from '../database/connect';
import { takeOff } from '../removed/removed-store';
import { versionRow } from '../scenes/version-store';
import { printedPage } from '../http/printed-page';
import { editWish, mixNotesWithStripNames, newWish, wishes } from './mix-note-store';

const querySchema = object({ version: idShape.required() }).noUnknown();

export const wishRoutes = (db: Database): Router =>
  Router()
    .get('/', async (req, res) => {
      res.json(await wishes(db, parseShape(querySchema, req.query).version));
    })
    .get('/list.csv', async (req, res) => {
      const { version } = parseShape(querySchema, req.query);
      const { name } = await versionRow(db, version);
      const rows = (await mixNotesWithStripNames(db, version)).map((wish) => ({
        ...wish,
        at: wish.at === null ? '' : clock(wish.at),
      }));
      res
        .attachment(`Wishes for ${name}.csv`)
        .type('text/csv')
        // RFC 4180 ends lines so; what a spreadsheet would work out stays words.
        .send(stringify(rows, { header: true, columns: COLUMNS, record_delimiter: '\r\n', escape_formulas: true }));
    })
    .get('/list.html', async (req, res) => {
      const { version } = parseShape(querySchema, req.query);
      const { name } = await versionRow(db, version);
      res.type('html').send(printed(`Wishes for ${name}`, await mixNotesWithStripNames(db, version)));
    })
    .post('/', async (req, res) => {
      res.status(201).json(await newWish(db, parseShape(newWishShape, req.body) as NewWish));
    })
    .patch('/:id', async (req, res) => {
      res.json(await editWish(db, req.params.id, parseShape(wishEditShape, req.body) as WishEdit));
    })
    .delete('/:id', async (req, res) => {
      res.json(await takeOff(db, 'wishes', { id: req.params.id }));
    });

const COLUMNS = ['at', 'strip', 'who', 'text', 'state', 'scene'];

/** A page for paper, which asks to be printed when it is opened. */
function printed(title: string, list: readonly WishView[]): string {
  const row = ({ at, strip, who, text, state, scene }: WishView) =>
    `<tr><td>☐<td>${at === null ? '' : clock(at)}<td>${escapeHtml(strip ?? '')}<td>${escapeHtml(text)}<td>${escapeHtml(who)}<td>${state}<td>${escapeHtml(scene ?? '')}`;
  return printedPage(
    title,
    `<table><tr><th><th>At<th>Strip<th>Wish<th>Who<th>State<th>Scene${list.map(row).join('')}</table>`,
  );
}
