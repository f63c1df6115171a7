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
import type { ServerContext } from '../desk/server-context';
import { loadState } from '../desk/strip-states';
import { claimJob, jobWithResult } from '../jobs/job-store';
import { type ReportProgress, runJob } from '../jobs/run-job';
import { removeScenes } from '../scenes/delete-scenes';
import { insertScene } from '../scenes/insert-scene';
import { addProduction, deleteProduction } from '../scenes/production-store';
import { addVersion, deleteVersions } from '../scenes/version-store';
import { type ConversionPlan, planConversion, saveManualMatches } from './plan-conversion';

const STOPPED = 'Old Echo stopped during it. What was created by then can be binned.';

/** @throws Fault `not-found` */
export async function conversion(db: Database, id: string): Promise<ConversionView> {
  const [job, row] = await jobWithResult(db, id, STOPPED, () => db('conversions').where({ id }).first());
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

async function runConversion(
  { db, onMade }: Tools,
  id: string,
  { intoId, name, deskId }: StartConversion,
  plan: ConversionPlan,
  of: Of,
  report: ReportProgress,
): Promise<void> {
  const made: string[] = [];
  const production = intoId ?? (await newProduction(db, deskId, name || `${of.name} on ${plan.deskName}`, of.kind));
  const versions = new Map<string, string>();
  const scenes = new Map<string, string>();
  const lines: ReportLine[][] = [];
  try {
    for (const scene of plan.scenes) {
      const version =
        versions.get(scene.version_id) ?? (await versionFor(db, production, scene.version_id, plan.deskName));
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
      scenes.set(scene.id, copy.id);
      made.push(copy.id);
      await report(made.length, plan.scenes.length);
    }
  } catch (error) {
    await untilWritten(() =>
      undoConversion(db, plan, made, [...versions.values()], intoId === null ? production : null),
    );
    throw error;
  }
  await db('conversions')
    .where({ id })
    .update({
      production_id: production,
      scene_id: made.at(-1) ?? null,
      report: toJson({ matches: plan.names, lines: mergeReports(lines) }),
    });
  onMade(production);
}

async function newProduction(db: Database, deskId: string, name: string, kind: Of['kind']): Promise<string> {
  const taken = await db('productions').pluck('name');
  const id = newId();
  // Its versions are those that come along.
  await addProduction(db, { id, deskId, name: uniqueName(name, taken), kind, note: '' });
  return id;
}

/** A version of the other production under the name of this one, or with a number behind it. */
async function versionFor(db: Database, productionId: string, like: string, deskName: string): Promise<string> {
  const id = newId();
  await inTransaction(db, async (tx) => {
    const { name } = found(await tx('versions').where({ id: like }).first('name'));
    const own = await tx('versions').where({ production_id: productionId }).pluck('name');
    const note = `Carried over to ${deskName}.`;
    await addVersion(tx, { id, production_id: productionId, name: uniqueName(name, own), note });
  });
  return id;
}

async function undoConversion(
  db: Database,
  plan: ConversionPlan,
  scenes: readonly string[],
  versions: readonly string[],
  production: string | null,
): Promise<void> {
  await removeScenes(db, plan.to, [...scenes]);
  await inTransaction(db, async (tx) => {
    await deleteVersions(tx, versions);
    if (production !== null) await deleteProduction(tx, production);
  });
}
