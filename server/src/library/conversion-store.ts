import { mergeReports, type ReportLine } from '@old-echo/core/library/conversion-report';
import type { StartConversion, ConversionView, NamedMatch } from '@old-echo/core/contracts/conversion';
import type { ProductionView } from '@old-echo/core/contracts/production';
import { Fault } from '@old-echo/core/fault/fault';
import { uniqueName } from '@old-echo/core/fault/text-shapes';
import type { Logger } from 'pino';
import { newId } from '../database/new-id';

import type { Database } from '../database/connect';
import { inTransaction } from '../database/transaction';
import { untilWritten } from '../database/until-written';
import { insertProduction } from '../scenes/production-store';
import type { BackgroundTasks } from '../jobs/background-tasks';
import { insertScene } from '../scenes/insert-scene';
import { removeScenes } from '../scenes/delete-scenes';
import { loadState } from '../desk/strip-states';
import type { DeskConnections } from '../desk/desk-connections';
import { planConversion, saveManualMatches, type ConversionPlan } from './plan-conversion';

/** After this long without a sign of life nobody works on it any more, in ms. */
const SILENT = 20_000;

interface Row {
  readonly id: string;
  readonly title: string;
  readonly status: ConversionView['status'];
  readonly done: number;
  readonly total: number;
  readonly why: string;
  readonly cancel: 0 | 1;
  readonly production_id: string | null;
  readonly scene_id: string | null;
  readonly report: string;
  readonly beat_at: Date;
}

/** @throws Fault `not-found` */
export async function carrying(db: Database, id: string): Promise<ConversionView> {
  const row = await db<Row>('carryings').where({ id }).first();
  if (!row) throw new Fault('not-found', 'Nothing is being carried over there.', 'Begin again from the mixes.');
  const dead = row.status === 'running' && Date.now() - row.beat_at.getTime() > SILENT;
  const { matches, lines } = JSON.parse(row.report) as { matches: NamedMatch[]; lines: ReportLine[] };
  return {
    id,
    title: row.title,
    status: dead ? 'failed' : row.status,
    done: row.done,
    total: row.total,
    why: dead ? 'Old Echo stopped in the middle of it. What was made until then can be binned.' : row.why,
    productionId: row.production_id,
    sceneId: row.scene_id,
    matches,
    lines,
  };
}

export const askToCancel = (db: Database, id: string): Promise<number> =>
  db('carryings').where({ id, status: 'running' }).update({ cancel: true });

interface Tools {
  readonly db: Database;
  readonly sessions: DeskConnections;
  readonly atWork: BackgroundTasks;
  readonly log: Logger;
  /** Told when scenes were made. */
  readonly onMade: (productionId: string) => void;
}

/**
 * Begins to carry scenes over, and returns while that goes on. Cancelled or failed, nothing of it stays.
 * @throws Fault as {@link planConversion}, and `refused-input` for a production of another desk
 */
export async function beginCarry(tools: Tools, request: StartConversion): Promise<ConversionView> {
  const { db, sessions } = tools;
  const plan = await planConversion(db, sessions, request);
  const { intoId, deskId, productionId } = request;
  if (intoId !== null && !(await db('productions').where({ id: intoId, desk_id: deskId }).first('id')))
    throw new Fault(
      'refused-input',
      `That is not made on ${plan.deskName}.`,
      'Choose another, or make a new one.',
      'intoId',
    );
  await saveManualMatches(db, productionId, deskId, request.hands as Readonly<Record<string, string | null>>);
  const id = newId();
  const of = (await db('productions').where({ id: productionId }).first('name', 'kind')) as Of;
  const { name } = of;
  await db('carryings').insert({
    id,
    title: `${name} to ${plan.deskName}`,
    status: 'running',
    total: plan.scenes.length,
    report: JSON.stringify({ matches: plan.names, lines: [] }),
    beat_at: new Date(),
  });
  tools.atWork.add(
    runConversion(tools, id, request, plan, of).catch(async (error: unknown) => {
      tools.log.error(error, 'carrying over failed');
      const why = error instanceof Fault ? error.message : 'Something went wrong. Nothing of it was kept.';
      await untilWritten(() => db('carryings').where({ id }).update({ status: 'failed', why }));
    }),
  );
  return carrying(db, id);
}

/** The production that is carried over. */
type Of = Pick<ProductionView, 'name' | 'kind'>;

async function runConversion(
  { db, onMade }: Tools,
  id: string,
  { intoId, name, deskId }: StartConversion,
  plan: ConversionPlan,
  of: Of,
): Promise<void> {
  const made: string[] = [];
  const production = intoId ?? (await newProduction(db, deskId, name || `${of.name} on ${plan.deskName}`, of.kind));
  const versions = new Map<string, string>();
  const scenes = new Map<string, string>();
  const lines: ReportLine[][] = [];
  try {
    for (const [done, scene] of plan.scenes.entries()) {
      const version =
        versions.get(scene.version_id) ?? (await versionFor(db, production, scene.version_id, plan.deskName));
      versions.set(scene.version_id, version);
      const own = await loadState(db, scene.id);
      const carried = plan.carry(own);
      lines.push(plan.linesOf(carried, own));
      const parents = (await db('scene_parents')
        .where({ scene_id: scene.id })
        .orderBy('place')
        .pluck('parent_id')) as string[];
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
      const [{ cancel }] = (await db('carryings').where({ id }).select('cancel')) as [{ cancel: 0 | 1 }];
      await db('carryings')
        .where({ id })
        .update({ done: done + 1, beat_at: new Date() });
      if (cancel === 1) {
        await undoConversion(db, plan, made, [...versions.values()], intoId === null ? production : null);
        await db('carryings').where({ id }).update({ status: 'cancelled' });
        return;
      }
    }
  } catch (error) {
    await untilWritten(() =>
      undoConversion(db, plan, made, [...versions.values()], intoId === null ? production : null),
    );
    throw error;
  }
  await db('carryings')
    .where({ id })
    .update({
      status: 'done',
      production_id: production,
      scene_id: made.at(-1) ?? null,
      report: JSON.stringify({ matches: plan.names, lines: mergeReports(lines) }),
    });
  onMade(production);
}

async function newProduction(db: Database, deskId: string, name: string, kind: Of['kind']): Promise<string> {
  const taken = (await db('productions').pluck('name')) as string[];
  const id = await insertProduction(db, { deskId, name: uniqueName(name, taken), kind, note: '' });
  // Its versions are those that come along.
  await db('versions').where({ production_id: id }).delete();
  return id;
}

/** A version of the other production under the name of this one, or with a number behind it. */
async function versionFor(db: Database, productionId: string, like: string, deskName: string): Promise<string> {
  const id = newId();
  await inTransaction(db, async (tx) => {
    const { name } = (await tx('versions').where({ id: like }).first('name')) as { name: string };
    const own = (await tx('versions').where({ production_id: productionId }).select('name', 'place')) as {
      name: string;
      place: number;
    }[];
    await tx('versions').insert({
      id,
      production_id: productionId,
      name: uniqueName(
        name,
        own.map((version) => version.name),
      ),
      note: `Carried over to ${deskName}.`,
      place: Math.max(-1, ...own.map(({ place }) => place)) + 1,
    });
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
    await tx('versions').whereIn('id', versions).delete();
    if (production === null) return;
    await tx('versions').where({ production_id: production }).delete();
    await tx('productions').where({ id: production }).delete();
  });
}
