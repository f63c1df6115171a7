import type { ConversionView, StartConversion } from '@old-echo/core/contracts/conversion';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { Fault } from '@old-echo/core/fault/fault';
import { uniqueName } from '@old-echo/core/fault/text-shapes';
import { mergeReports, type ReportLine } from '@old-echo/core/phrases/conversion-report';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { fromJson, toJson } from '../database/json-column';
import { newId } from '../database/new-id';
import { inTransaction } from '../database/transaction';
import { untilWritten } from '../database/until-written';
import { loadState } from '../desk/scene-states';
import type { ServerContext } from '../desk/server-context';
import { claimJob, jobWithResult } from '../jobs/job-store';
import { type ReportProgress, runJob } from '../jobs/run-job';
import { insertScene } from '../scenes/insert-scene';
import { beginProduction, dropMaking, showMade } from '../scenes/making-production';
import { mergeProduction } from '../scenes/merge-production';
import { addVersion } from '../scenes/version-store';
import { type ConversionPlan, planConversion, saveManualMatches } from './plan-conversion';

const STOPPED = 'Old Echo stopped during it. Nothing was saved; try again.';

/** @throws Fault `not-found` */
export async function conversion(db: Database, id: string): Promise<ConversionView> {
  const [job, row] = await jobWithResult(
    db,
    id,
    STOPPED,
    () => db('conversions').where({ id }).first(),
    (made) => made !== undefined && made.production_id !== null,
  );
  if (!job || !row) throw new Fault('not-found', 'This carry-over no longer exists.', 'Begin again from the mixes.');
  const { matches, lines } = fromJson(row.report);
  return {
    ...job,
    id,
    title: row.title,
    productionId: row.production_id,
    sceneId: row.scene_id,
    matches,
    lines,
  };
}

interface Tools extends Pick<ServerContext, 'db' | 'log' | 'tasks' | 'desks'> {
  /** Told when scenes were made. */
  readonly onMade: (productionId: string) => void;
}

/**
 * Begins to carry scenes over, and returns while that goes on. Cancelled or failed, nothing of it stays.
 * @throws Fault as {@link planConversion}, and `refused-input` for a production of another desk
 */
export async function startConversion(tools: Tools, request: StartConversion): Promise<ConversionView> {
  const { db, desks } = tools;
  const plan = await planConversion(db, desks, request);
  const { intoId, deskId, productionId } = request;
  if (intoId !== null && !(await db('productions').where({ id: intoId, desk_id: deskId }).first('id')))
    throw new Fault(
      'refused-input',
      `That song or show is not on ${plan.deskName}.`,
      'Choose another, or create a new one.',
      'intoId',
    );
  await saveManualMatches(db, productionId, deskId, request.hands);
  const id = newId();
  const of = found(await db('productions').where({ id: productionId }).first('name', 'kind'));
  const { name } = of;
  await db('conversions').insert({
    id,
    title: `${name} to ${plan.deskName}`,
    report: toJson({ matches: plan.names, lines: [] }),
  });
  await claimJob(db, id, plan.scenes.length);
  runJob(tools, id, 'Something went wrong. Nothing was saved.', (report) =>
    runConversion(tools, id, request, plan, of, report),
  );
  return conversion(db, id);
}

/** The production that is carried over. */
type Of = Pick<ProductionView, 'name' | 'kind'>;

/**
 * Carries all of it over, into a song or show that nobody sees until all of it is there; whoever captures or restores meanwhile does not
 * wait. What goes into one that is there is joined to it at the very end.
 */
async function runConversion(
  { db, onMade }: Tools,
  id: string,
  { intoId, name, deskId }: StartConversion,
  plan: ConversionPlan,
  of: Of,
  report: ReportProgress,
): Promise<void> {
  const made = newId();
  const taken = await db('productions').pluck('name');
  const called = uniqueName(name || `${of.name} on ${plan.deskName}`, taken);
  try {
    await beginProduction(db, id, { id: made, deskId, name: called, kind: of.kind, note: '' });
    const { last, lines } = await carryScenes(db, made, plan, report);
    await inTransaction(db, async (tx) => {
      await showMade(tx, id, made);
      if (intoId !== null) await mergeProduction(tx, made, intoId);
      await tx('conversions')
        .where({ id })
        .update({
          production_id: intoId ?? made,
          scene_id: last,
          report: toJson({ matches: plan.names, lines: mergeReports(lines) }),
        });
    });
  } catch (error) {
    await untilWritten(() => dropMaking(db, id));
    throw error;
  }
  onMade(intoId ?? made);
}

/** Writes each scene as it is on the other desk; returns the last one, and what there is to say of each. */
async function carryScenes(
  db: Database,
  production: string,
  plan: ConversionPlan,
  report: ReportProgress,
): Promise<{ readonly last: string | null; readonly lines: readonly (readonly ReportLine[])[] }> {
  const versions = new Map<string, string>();
  const scenes = new Map<string, string>();
  const lines: (readonly ReportLine[])[] = [];
  let last: string | null = null;
  for (const scene of plan.scenes) {
    const version =
      versions.get(scene.version_id) ?? (await versionLike(db, production, scene.version_id, plan.deskName));
    versions.set(scene.version_id, version);
    const own = await loadState(db, scene.id);
    const carried = plan.carry(own);
    lines.push(plan.linesOf(carried, own));
    const parents = await db('scene_parents').where({ scene_id: scene.id }).orderBy('place').pluck('parent_id');
    const copy = await insertScene(db, plan.to, {
      versionId: version,
      name: scene.name,
      note: scene.note,
      milestone: scene.milestone,
      kind: 'scene',
      parents: parents.flatMap((parent) => scenes.get(parent) ?? []),
      state: carried.state,
      madeAt: new Date(),
    });
    last = copy.id;
    scenes.set(scene.id, last);
    await report(scenes.size, plan.scenes.length);
  }
  return { last, lines };
}

/** A version under the name of one of the production that is carried over. */
async function versionLike(db: Database, productionId: string, like: string, deskName: string): Promise<string> {
  const id = newId();
  await inTransaction(db, async (tx) => {
    const { name } = found(await tx('versions').where({ id: like }).first('name'));
    const own = await tx('versions').where({ production_id: productionId }).pluck('name');
    const note = `Carried over to ${deskName}.`;
    await addVersion(tx, { id, production_id: productionId, name: uniqueName(name, own), note });
  });
  return id;
}
