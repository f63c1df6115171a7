import { stripFingerprint, stripFingerprints } from '@old-echo/core/desk/fingerprint';
import type { State } from '@old-echo/core/desk/state';
import { encodeStrips, type StripBefore } from '@old-echo/core/scenes/plan-scene';

import type { Database } from '../database/connect';
import { found } from '../database/found';
import { holdStrips, storeStrips, type StripsOfScene } from '../desk/strip-states';
import { insertRecords, type SceneRecord } from './insert-scene';
import { type DevicesOfScene, storeOutboard } from './scene-outboard';

/** So many scenes are written with the same statements. */
const MOST = 50;

interface Waiting extends SceneRecord, Pick<DevicesOfScene, 'devices'>, Pick<StripsOfScene, 'plan'> {}

/** Writes many scenes of one desk inside a transaction, some at a time, in fewer statements than they take one by one. */
export class SceneBatch {
  private waiting: Waiting[] = [];
  /** The ids of strip states that this transaction holds, by their fingerprints. */
  private readonly held = new Map<string, number>();
  /** Fingerprints of those that it holds, or will once they are written. */
  private readonly taken = new Set<string>();
  /** What the next states of each strip are told from. */
  private readonly before = new Map<string, StripBefore>();

  constructor(private readonly tx: Database) {}

  /** Takes one more scene, which may be written with later ones: {@link write} has to follow the last. */
  async add(scene: Omit<Waiting, 'plan'>, state: State): Promise<void> {
    const fresh = Object.entries(state).filter(([, settings]) => !this.taken.has(stripFingerprint(settings)));
    const { encoded } = encodeStrips(Object.fromEntries(fresh), this.before);
    for (const print of encoded.keys()) this.taken.add(print);
    const fingerprints = new Map(Object.entries(stripFingerprints(state)));
    this.waiting.push({ ...scene, plan: { fingerprints, encoded } });
    const whole = fresh.filter(([, settings]) => encoded.get(stripFingerprint(settings))?.base === null);
    if (whole.length > 0 || this.waiting.length >= MOST) await this.write();
    if (whole.length === 0) return;
    // Those after it are told from what was stored whole.
    const strips = whole.map(([strip]) => strip);
    for (const [strip, before] of await holdStrips(this.tx, scene.id, strips)) this.before.set(strip, before);
  }

  /** Writes what still waits. */
  async write(): Promise<void> {
    const scenes = this.waiting;
    if (scenes.length === 0) return;
    this.waiting = [];
    const seqs = await insertRecords(this.tx, scenes);
    await storeOutboard(
      this.tx,
      scenes.map(({ id, devices }) => ({ sceneId: id, devices })),
    );
    const strips = scenes.map(({ id, plan }) => ({ seq: found(seqs.get(id)), plan }));
    await storeStrips(this.tx, strips, this.held);
  }
}
