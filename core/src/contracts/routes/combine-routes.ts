import { object } from 'yup';

import type { Picks } from '../../combine/recipe';
import { idShape } from '../../fault/text-shapes';
import { combinationEditShape, type CombinationView, newCombinationShape, saveCombinationShape } from '../combination';
import { type CatchUpResult, catchUpShape, type FollowerView } from '../follower';
import { mixNoteEditShape, type MixNoteView, newMixNoteShape } from '../mix-note';
import type { Removal } from '../removal';
import { del, get, type Nothing, patch, post } from '../route';
import type { SceneView } from '../scene';

const ofVersion = { query: object({ version: idShape.required() }).noUnknown() };

export const COMBINATION_ROUTES = {
  combinations: get('/combinations', 'Scenes in the making in a song or show, the last changed first.', {
    query: object({ production: idShape.required() }).noUnknown(),
  }).answers<readonly CombinationView[]>(),
  startCombination: post('/combinations', 'Begins to combine scenes.', {
    body: newCombinationShape,
    status: 201,
  }).answers<CombinationView>(),
  combination: get('/combinations/:id', 'A scene in the making.').answers<CombinationView>(),
  editCombination: patch('/combinations/:id', 'Changes what is picked.', {
    body: combinationEditShape,
  }).answers<CombinationView>(),
  discardCombination: del('/combinations/:id', 'Discards a scene in the making.').answers<Nothing>(),
  saveCombination: post('/combinations/:id/save', 'Makes the scene.', {
    body: saveCombinationShape,
    status: 201,
  }).answers<SceneView>(),
};

export const ORIGIN_ROUTES = {
  cellOrigins: get('/scenes/:id/cell-origins', 'Which scene each cell of a scene came from.').answers<Picks>(),
};

export const FOLLOWER_ROUTES = {
  followers: get('/productions/:production/followers', 'Versions that follow another and are behind it.').answers<
    readonly FollowerView[]
  >(),
  catchUp: post(
    '/productions/:production/followers/catch-up',
    'Lets versions take over what the ones they follow have gained.',
    {
      body: catchUpShape,
    },
  ).answers<readonly CatchUpResult[]>(),
};

export const MIX_NOTE_ROUTES = {
  mixNotes: get('/mix-notes', 'The mix notes of a version, the oldest first.', ofVersion).answers<
    readonly MixNoteView[]
  >(),
  mixNotesTable: get('/mix-notes/list.csv', 'The same as a table.', {
    ...ofVersion,
    gives: 'text/csv',
  }).answers<Nothing>(),
  mixNotesSheet: get('/mix-notes/list.html', 'The same for paper.', {
    ...ofVersion,
    gives: 'text/html',
  }).answers<Nothing>(),
  addMixNote: post('/mix-notes', 'Adds a mix note to a version.', {
    body: newMixNoteShape,
    status: 201,
    by: 'assistant',
  }).answers<MixNoteView>(),
  editMixNote: patch('/mix-notes/:id', 'Changes a mix note.', {
    body: mixNoteEditShape,
    by: 'assistant',
  }).answers<MixNoteView>(),
  removeMixNote: del('/mix-notes/:id', 'Removes a mix note.', { by: 'assistant' }).answers<Removal>(),
};
