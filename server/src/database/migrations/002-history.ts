import { inflateSync } from 'node:zlib';

import type { Knex } from 'knex';

import { asciiColumn, timestampColumn, ulidColumn } from '../column-types';

/**
 * Bin, tags, protection and pins; what each scene moved, to be searched; and scenes as lists of strip states under a
 * small number of their own, so that ten thousand of them stay small.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('productions', (t) => {
    timestampColumn(t, 'binned_at').nullable();
    t.integer('revision').unsigned().notNullable().defaultTo(1);
  });

  await db.schema.alterTable('versions', (t) => {
    t.specificType('note', `TEXT NOT NULL DEFAULT ''`);
    t.enum('work', ['working', 'sent', 'approved']).notNullable().defaultTo('working');
    timestampColumn(t, 'binned_at').nullable();
    t.integer('revision').unsigned().notNullable().defaultTo(1);
    /** The name where it must be unique inside the production: what is in the bin may share it. */
    t.specificType('own_name', 'VARCHAR(100) AS (IF(binned_at IS NULL, name, NULL)) PERSISTENT');
    t.unique(['production_id', 'own_name']);
    t.dropUnique(['production_id', 'name']);
  });

  await db.schema.alterTable('scenes', (t) => {
    t.dropUnique(['version_id', 'own_name']);
    t.dropColumn('own_name');
  });
  await db.schema.alterTable('scenes', (t) => {
    // What its rows of strips are kept under: four bytes instead of 26, ninety-nine times per scene.
    t.specificType('seq', 'INT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE');
    ulidColumn(t, 'production_id').nullable();
    t.specificType('kind', `ENUM('scene', 'way back', 'rested', 'link ended') NOT NULL`).alter();
    t.boolean('protected').notNullable().defaultTo(false);
    timestampColumn(t, 'binned_at').nullable();
    /** The names of the strips that moved, to be searched. */
    t.specificType('moved_names', `TEXT NOT NULL DEFAULT ''`);
  });
  await db.raw(
    'UPDATE scenes JOIN versions ON versions.id = scenes.version_id SET scenes.production_id = versions.production_id',
  );
  await db.schema.alterTable('scenes', (t) => {
    ulidColumn(t, 'production_id').notNullable().references('productions.id').alter();
    t.specificType('own_name', `VARCHAR(100) AS (IF(kind = 'scene' AND binned_at IS NULL, name, NULL)) PERSISTENT`);
    t.unique(['version_id', 'own_name']);
    t.unique(['production_id', 'number']);
    // Lists and counts the scenes of a production, the newest first, without looking at each.
    t.index(['production_id', 'binned_at', 'number', 'version_id', 'kind']);
  });

  await db.schema.createTable('scene_tags', (t) => {
    ulidColumn(t, 'scene_id').notNullable().references('scenes.id').onDelete('CASCADE');
    t.string('tag', 30).notNullable();
    t.primary(['scene_id', 'tag']);
    t.index(['tag']);
  });

  await db.schema.renameTable('scene_strips', 'old_scene_strips');
  await db.schema.createTable('scene_strips', (t) => {
    t.integer('scene_seq').unsigned().notNullable();
    asciiColumn(t, 'strip', 12).notNullable();
    t.integer('strip_state_id').unsigned().notNullable();
    t.primary(['scene_seq', 'strip']);
  });
  await db.raw(
    `INSERT INTO scene_strips SELECT scenes.seq, strip, strip_state_id
       FROM old_scene_strips JOIN scenes ON scenes.id = old_scene_strips.scene_id`,
  );
  await db.schema.dropTable('old_scene_strips');
  await db.schema.alterTable('scene_strips', (t) => {
    t.foreign('scene_seq', 'scene_strips_scene').references('scenes.seq').onDelete('CASCADE');
    t.foreign('strip_state_id', 'scene_strips_state').references('strip_states.id');
  });

  // A state that differs little from another is told from it: its content is then the settings that differ, as plain JSON.
  await db.schema.alterTable('strip_states', (t) => {
    t.integer('base_id').unsigned().nullable().references('strip_states.id');
  });

  // Which strips a scene moved from its first parent.
  await db.schema.createTable('scene_moves', (t) => {
    t.integer('scene_seq').unsigned().notNullable().references('scenes.seq').onDelete('CASCADE');
    asciiColumn(t, 'strip', 12).notNullable();
    t.primary(['scene_seq', 'strip']);
    t.index(['strip', 'scene_seq']);
  });
  await db.raw(
    `INSERT INTO scene_moves SELECT scenes.seq, own.strip
       FROM scenes
       JOIN scene_parents ON scene_parents.scene_id = scenes.id AND scene_parents.place = 0
       JOIN scenes AS parents ON parents.id = scene_parents.parent_id
       JOIN scene_strips AS own ON own.scene_seq = scenes.seq
       JOIN scene_strips AS theirs ON theirs.scene_seq = parents.seq AND theirs.strip = own.strip
      WHERE own.strip_state_id <> theirs.strip_state_id`,
  );
  await nameMoves(db);

  await db.schema.createTable('pins', (t) => {
    ulidColumn(t, 'desk_id').notNullable().references('desks.id').onDelete('CASCADE');
    ulidColumn(t, 'scene_id').notNullable().references('scenes.id').onDelete('CASCADE');
    t.integer('place').notNullable();
    t.primary(['desk_id', 'scene_id']);
  });

  // The log of restores outlives the scenes it speaks of.
  await db.schema.alterTable('restores', (t) => {
    t.dropForeign('scene_id');
    t.dropForeign('way_back_id');
    t.string('scene_name', 100).notNullable().defaultTo('');
    t.integer('scene_number').unsigned().notNullable().defaultTo(0);
  });
  await db.raw(
    `UPDATE restores JOIN scenes ON scenes.id = restores.scene_id
        SET restores.scene_name = scenes.name, restores.scene_number = scenes.number`,
  );
  await db.schema.alterTable('restores', (t) => {
    ulidColumn(t, 'scene_id').nullable().alter();
    ulidColumn(t, 'way_back_id').nullable().alter();
    t.foreign('scene_id').references('scenes.id').onDelete('SET NULL');
    t.foreign('way_back_id').references('scenes.id').onDelete('SET NULL');
  });
}

/** Writes the names of the strips that moved behind every scene there is. */
async function nameMoves(db: Knex): Promise<void> {
  const moves = await db('scene_moves')
    .join('scene_strips', (on) =>
      on.on('scene_strips.scene_seq', 'scene_moves.scene_seq').andOn('scene_strips.strip', 'scene_moves.strip'),
    )
    .join('strip_states', 'strip_states.id', 'scene_strips.strip_state_id')
    .select<
      {
        scene_seq: number;
        strip: string;
        content: Buffer;
      }[]
    >('scene_moves.scene_seq', 'scene_moves.strip', 'content');
  const names = new Map<number, string[]>();
  for (const { scene_seq, strip, content } of moves) {
    const label = (JSON.parse(inflateSync(content).toString('utf8')) as Record<string, unknown>)['label/name'];
    names.set(scene_seq, [...(names.get(scene_seq) ?? []), typeof label === 'string' && label ? label : strip]);
  }
  for (const [seq, list] of names)
    await db<object>('scenes')
      .where({ seq })
      .update({ moved_names: list.join('\n') });
}
