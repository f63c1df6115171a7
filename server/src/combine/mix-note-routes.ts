import { stringify } from 'csv-stringify/sync';
import escapeHtml from 'escape-html';
import { Router } from 'express';
import { object } from 'yup';

import { clock, mixNoteEditShape, type MixNoteView, newMixNoteShape } from '@old-echo/core/contracts/mix-note';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { idShape } from '@old-echo/core/fault/text-shapes';

import type { ServerContext } from '../desk/server-context';
import { printedPage } from '../http/printed-page';
import { removeRow } from '../removed/removed-store';
import { versionRow } from '../scenes/version-store';
import { addMixNote, editMixNote, mixNotes, mixNotesWithStripNames } from './mix-note-store';

const querySchema = object({ version: idShape.required() }).noUnknown();

export const mixNoteRoutes = ({ db }: ServerContext): Router =>
  Router()
    .get('/', async (req, res) => {
      res.json(await mixNotes(db, parseShape(querySchema, req.query).version));
    })
    .get('/list.csv', async (req, res) => {
      const { version } = parseShape(querySchema, req.query);
      const { name } = await versionRow(db, version);
      const rows = (await mixNotesWithStripNames(db, version)).map((mixNote) => ({
        ...mixNote,
        songSeconds: mixNote.songSeconds === null ? '' : clock(mixNote.songSeconds),
      }));
      res
        .attachment(`Mix notes for ${name}.csv`)
        .type('text/csv')
        // RFC 4180 ends lines so; what a spreadsheet would work out stays words.
        .send(stringify(rows, { header: true, columns: COLUMNS, record_delimiter: '\r\n', escape_formulas: true }));
    })
    .get('/list.html', async (req, res) => {
      const { version } = parseShape(querySchema, req.query);
      const { name } = await versionRow(db, version);
      res.type('html').send(printed(`Mix notes for ${name}`, await mixNotesWithStripNames(db, version)));
    })
    .post('/', async (req, res) => {
      res.status(201).json(await addMixNote(db, parseShape(newMixNoteShape, req.body)));
    })
    .patch('/:id', async (req, res) => {
      res.json(await editMixNote(db, req.params.id, parseShape(mixNoteEditShape, req.body)));
    })
    .delete('/:id', async (req, res) => {
      res.json(await removeRow(db, 'mix_notes', { id: req.params.id }));
    });

const COLUMNS = [
  { key: 'songSeconds', header: 'time' },
  { key: 'strip' },
  { key: 'requestedBy', header: 'asked by' },
  { key: 'text', header: 'note' },
  { key: 'status' },
  { key: 'scene' },
];

/** A page for paper, which asks to be printed when it is opened. */
function printed(title: string, list: readonly MixNoteView[]): string {
  const row = ({ songSeconds, strip, requestedBy, text, status, scene }: MixNoteView) =>
    `<tr><td>☐<td>${songSeconds === null ? '' : clock(songSeconds)}<td>${escapeHtml(strip ?? '')}<td>${escapeHtml(text)}<td>${escapeHtml(requestedBy)}<td>${status}<td>${escapeHtml(scene ?? '')}`;
  return printedPage(
    title,
    `<table><tr><th><th>Time<th>Strip<th>Note<th>Asked by<th>Status<th>Scene${list.map(row).join('')}</table>`,
  );
}
