import { stringify } from 'csv-stringify/sync';
import escapeHtml from 'escape-html';
import type { Router } from 'express';

import { clock, type MixNoteView } from '@old-echo/core/contracts/mix-note';
import { MIX_NOTE_ROUTES } from '@old-echo/core/contracts/routes/combine-routes';

import type { ServerContext } from '../desk/server-context';
import { printedPage } from '../http/printed-page';
import { serveRoutes } from '../http/serve-routes';
import { removeRow } from '../removed/removed-store';
import { versionRow } from '../scenes/version-store';
import { addMixNote, editMixNote, mixNotes, mixNotesWithStripNames } from './mix-note-store';

export const mixNoteRoutes = ({ db }: ServerContext): Router =>
  serveRoutes(MIX_NOTE_ROUTES, {
    mixNotes: ({ query }) => mixNotes(db, query.version),
    mixNotesTable: async ({ query, res }) => {
      const { name } = await versionRow(db, query.version);
      const rows = (await mixNotesWithStripNames(db, query.version)).map((mixNote) => ({
        ...mixNote,
        songSeconds: mixNote.songSeconds === null ? '' : clock(mixNote.songSeconds),
      }));
      res
        .attachment(`Mix notes for ${name}.csv`)
        .type('text/csv')
        // RFC 4180 ends lines so; what a spreadsheet would work out stays words.
        .send(stringify(rows, { header: true, columns: COLUMNS, record_delimiter: '\r\n', escape_formulas: true }));
    },
    mixNotesSheet: async ({ query, res }) => {
      const { name } = await versionRow(db, query.version);
      res.type('html').send(printed(`Mix notes for ${name}`, await mixNotesWithStripNames(db, query.version)));
    },
    addMixNote: ({ body }) => addMixNote(db, body),
    editMixNote: ({ params, body }) => editMixNote(db, params.id, body),
    removeMixNote: ({ params }) => removeRow(db, 'mix_notes', { id: params.id }),
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
