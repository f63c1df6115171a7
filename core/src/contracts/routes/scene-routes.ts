import type { State } from '../../desk/state';
import type { StripHistory } from '../../scenes/strip-history';
import {
  newProductionShape,
  newVersionShape,
  orderShape,
  productionEditShape,
  type ProductionView,
  stripHistoryShape,
  uniqueNameShape,
  versionEditShape,
} from '../production';
import { del, get, type Nothing, patch, post } from '../route';
import {
  captureShape,
  type ChangeCount,
  moveTargetShape,
  type NamedScene,
  replaceShape,
  sceneEditShape,
  type SceneNeighbours,
  type ScenePage,
  scenePageShape,
  type SceneView,
} from '../scene';

/** What was created. */
export interface Made {
  readonly id: string;
}

export const CAPTURE_ROUTES = {
  captureScene: post('/desks/:id/captures', 'Captures the whole desk as a new scene.', {
    body: captureShape,
    status: 201,
    by: 'assistant',
  }).answers<SceneView>(),
  replaceScene: post(
    '/desks/:id/scene-replacements',
    'Captures the desk in the place of a scene, which goes to the bin.',
    {
      body: replaceShape,
      status: 201,
    },
  ).answers<SceneView>(),
  undoReplacement: post(
    '/desks/:id/scene-replacements/undo',
    'Puts the scene back that was replaced last.',
  ).answers<SceneView>(),
};

export const PRODUCTION_ROUTES = {
  productions: get('/productions', 'Songs and shows with their versions, those in the bin too.').answers<
    readonly ProductionView[]
  >(),
  createProduction: post('/productions', 'Creates a song or show.', {
    body: newProductionShape,
    status: 201,
  }).answers<Made>(),
  orderProductions: post('/productions/order', 'Puts songs and shows in another order.', {
    body: orderShape,
  }).answers<Nothing>(),
  editProduction: patch('/productions/:id', 'Changes what is written about a song or show.', {
    body: productionEditShape,
  }).answers<Nothing>(),
  binProduction: post('/productions/:id/bin', 'Moves a song or show to the bin.').answers<Nothing>(),
  unbinProduction: post('/productions/:id/unbin', 'Takes a song or show out of the bin.').answers<Nothing>(),
  deleteProduction: del('/productions/:id', 'Deletes a song or show that is in the bin, for good.').answers<Nothing>(),
  scenes: get('/productions/:id/scenes', 'A page of the scenes of a song or show, the newest first.', {
    query: scenePageShape,
  }).answers<ScenePage>(),
  emptyBin: del('/productions/:id/bin', 'Deletes the scenes in the bin of a song or show, for good.').answers<{
    readonly removed: number;
  }>(),
  createVersion: post('/productions/:id/versions', 'Creates a version, empty or from a scene.', {
    body: newVersionShape,
    status: 201,
  }).answers<Made>(),
  orderVersions: post('/productions/:id/versions/order', 'Puts versions in another order.', {
    body: orderShape,
  }).answers<Nothing>(),
};

export const VERSION_ROUTES = {
  editVersion: patch('/versions/:id', 'Changes what is written about a version.', {
    body: versionEditShape,
  }).answers<Nothing>(),
  binVersion: post('/versions/:id/bin', 'Moves a version to the bin.').answers<Nothing>(),
  unbinVersion: post('/versions/:id/unbin', 'Takes a version out of the bin.').answers<Nothing>(),
  deleteVersion: del('/versions/:id', 'Deletes a version that is in the bin, for good.').answers<Nothing>(),
  uniqueName: get(
    '/versions/:id/unique-name',
    'A name that no scene of the version has, and the scene that has the one given.',
    {
      query: uniqueNameShape,
    },
  ).answers<{ readonly name: string; readonly taken: NamedScene | null }>(),
  stripHistory: get('/versions/:id/strip-history', 'What became of one strip over the scenes of a version.', {
    query: stripHistoryShape,
  }).answers<StripHistory>(),
};

export const SCENE_ROUTES = {
  scene: get('/scenes/:id', 'One scene, without its settings.').answers<SceneView>(),
  sceneState: get('/scenes/:id/state', 'Every setting of a scene. It never changes.').answers<State>(),
  neighbours: get(
    '/scenes/:id/neighbours',
    'The scenes captured before and after one, in its song or show.',
  ).answers<SceneNeighbours>(),
  changeCount: get(
    '/scenes/:id/change-count/:other',
    'How far two scenes are from one another.',
  ).answers<ChangeCount>(),
  editScene: patch('/scenes/:id', 'Changes what is written about a scene; its settings never change.', {
    body: sceneEditShape,
    by: 'assistant',
  }).answers<SceneView>(),
  copyScene: post('/scenes/:id/copy', 'Copies a scene into a version.', {
    body: moveTargetShape,
    status: 201,
  }).answers<SceneView>(),
  moveScene: post('/scenes/:id/move', 'Moves a scene to another version.', {
    body: moveTargetShape,
  }).answers<SceneView>(),
  binScene: post('/scenes/:id/bin', 'Moves a scene to the bin.').answers<SceneView>(),
  unbinScene: post('/scenes/:id/unbin', 'Takes a scene out of the bin.').answers<SceneView>(),
  deleteScene: del('/scenes/:id', 'Deletes a scene that is in the bin, for good.').answers<Nothing>(),
};

/** What {@link STORAGE_ROUTES} found. */
export interface StorageCheck {
  readonly scenes: number;
  readonly stripStates: number;
  /** What the tables take on the disk, in bytes. */
  readonly bytes: number;
  /** Strip states that no scene is made of and no other is told from. */
  readonly orphans: number;
  /** Scenes that have fewer strips than their desk, of those that are not a part of one by intent. */
  readonly incomplete: readonly number[];
  /** Strip states that do not read back as what their fingerprint says. */
  readonly spoiled: number;
}

export const STORAGE_ROUTES = {
  checkStorage: get('/storage-check', 'Whether all that is stored is whole.').answers<StorageCheck>(),
};

export const REMOVAL_ROUTES = {
  undoRemoval: post('/removals/:id/back', 'Puts what was removed back where it was, within a day.', {
    by: 'assistant',
  }).answers<Nothing>(),
};
