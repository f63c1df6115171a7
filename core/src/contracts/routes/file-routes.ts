import { object, string } from 'yup';

import { idShape } from '../../fault/text-shapes';
import type { ParsedInputList } from '../../files/input-list';
import {
  exportShape,
  type FileNode,
  type ImportProgress,
  importShape,
  type ImportView,
  type RecentImport,
} from '../file-transfer';
import { get, type Nothing, post } from '../route';

export const IMPORT_ROUTES = {
  imports: get('/imports', 'Files that were opened lately.', { by: 'engineer' }).answers<readonly RecentImport[]>(),
  openFile: post('/imports', 'Opens a file and looks into it. Nothing is imported yet.', {
    query: object({ name: string().trim().max(200).default('A file') }).noUnknown(),
    takes: 'application/octet-stream',
    status: 201,
    by: 'engineer',
    looks: true,
  }).answers<ImportView>(),
  import: get('/imports/:id', 'A file that was opened, with what is inside.', { by: 'engineer' }).answers<ImportView>(),
  importProgress: get('/imports/:id/progress', 'How far its import is.', { by: 'engineer' }).answers<ImportProgress>(),
  startImport: post('/imports/:id/start', 'Begins to import what was chosen.', {
    body: importShape,
    status: 202,
  }).answers<ImportProgress>(),
  cancelImport: post('/imports/:id/cancel', 'Asks it to stop; nothing is imported then.').answers<ImportProgress>(),
};

export const EXPORT_ROUTES = {
  exportLibrary: get('/exports/presets', 'The library as a file.', {
    gives: 'application/json',
    by: 'assistant',
  }).answers<Nothing>(),
  exportPreset: get('/exports/presets/:id', 'A preset as a file.', {
    gives: 'application/json',
    by: 'assistant',
  }).answers<Nothing>(),
  exportScene: get('/exports/scenes/:id', 'A scene as a file.', {
    gives: 'application/json',
    by: 'assistant',
  }).answers<Nothing>(),
  exportContents: get('/exports/productions/:id/contents', 'What the archive of a song or show holds.', {
    by: 'assistant',
  }).answers<readonly FileNode[]>(),
  exportProduction: get('/exports/productions/:id', 'A song or show as an archive.', {
    query: exportShape,
    gives: 'application/zip',
    by: 'assistant',
  }).answers<Nothing>(),
};

const pair = object({ a: idShape.required(), b: idShape.required() }).noUnknown();

export const SHEET_ROUTES = {
  recallSheet: get('/sheets/scenes/:id', 'A recall sheet for paper.', { gives: 'text/html' }).answers<Nothing>(),
  differencesSheet: get('/sheets/differences', 'What differs between two scenes, for paper.', {
    query: pair,
    gives: 'text/html',
  }).answers<Nothing>(),
  differencesPatch: get('/sheets/differences.json', 'What differs between two scenes as a JSON Patch (RFC 6902).', {
    query: pair,
    gives: 'application/json-patch+json',
  }).answers<Nothing>(),
  inputList: get('/sheets/input-list/:production', 'The strip list as a table.', {
    gives: 'text/csv',
  }).answers<Nothing>(),
  readInputList: post('/sheets/input-list/:production', 'Reads a strip list. Nothing is changed.', {
    takes: 'text/csv',
    looks: true,
  }).answers<ParsedInputList>(),
};
