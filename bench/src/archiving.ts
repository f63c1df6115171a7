import { spawnSync } from 'node:child_process';
import { createWriteStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';

import type { FileNode } from '@old-echo/core/contracts/file-transfer';
import type { Database } from '@old-echo/server/database/connect';
import { soundFiles } from '@old-echo/server/database/file-store';
import { inTransaction } from '@old-echo/server/database/transaction';
import { buildArchive } from '@old-echo/server/files/export-files';
import { describeContents } from '@old-echo/server/files/file-contents';
import { importFile } from '@old-echo/server/files/import-file';
import { openFile } from '@old-echo/server/files/open-file';
import { addProduction } from '@old-echo/server/scenes/production-store';

import { print } from './figure';

const MB = 1e6;
const leaves = (branches: readonly FileNode[]): string[] =>
  branches.flatMap(({ id, children }) => (children.length > 0 ? leaves(children) : [id]));

/** Runs a shell line of Debian's own tools on the database; returns the time it took, in ms. */
function tool(line: string, into = ''): number {
  const at = `-h 127.0.0.1 -P ${process.env['OLD_ECHO_DB_PORT']} -u old_echo`;
  const start = performance.now();
  const { status, stderr } = spawnSync('sh', ['-c', line.replaceAll('AT', at)], {
    encoding: 'utf8',
    env: { ...process.env, MYSQL_PWD: process.env['OLD_ECHO_DB_PASSWORD'] ?? '', INTO: into },
  });
  if (status !== 0) throw new Error(stderr);
  return performance.now() - start;
}

/** All scenes of a production out into an archive and in again as a copy; every fingerprint has to be the same. */
export async function archiving(db: Database, production: string, scenes: number): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'old-echo-bench-'));
  try {
    const files = soundFiles(join(folder, 'files'));
    const [archive, dump] = [join(folder, 'a.zip'), join(folder, 'a.sql.gz')];
    const wanted = { versions: undefined, autosaves: true, sound: false, without: [] };
    const out = performance.now();
    await pipeline((await buildArchive(db, files, production, wanted)).outputStream, createWriteStream(archive));
    const exported = performance.now() - out;
    const dumped = tool(`mariadb-dump AT bench | gzip > ${dump}`);
    print({
      name: `${scenes} scenes into an archive of ${(statSync(archive).size / MB).toFixed(1)} MB (other: mariadb-dump and gzip of the same, ${(statSync(dump).size / MB).toFixed(1)} MB)`,
      ours: exported,
      other: dumped,
      unit: 'ms',
      goal: { most: 60_000 },
    });
    await db.raw('CREATE DATABASE bench_copy');
    const loaded = tool(`zcat ${dump} | mariadb AT bench_copy`);
    await db.raw('DROP DATABASE bench_copy');
    const opened = await openFile(archive);
    if (opened.format !== 'archive') throw new Error('it is no archive');
    const include = leaves((await describeContents(db, opened)).branches);
    let highest = 0;
    const report = () => {
      highest = Math.max(highest, process.memoryUsage().rss);
      return Promise.resolve();
    };
    const before = process.memoryUsage().rss;
    const start = performance.now();
    const making = {
      begin: (row: Parameters<typeof addProduction>[1]) => addProduction(db, row),
      show: () => Promise.resolve(),
    };
    const { resultPath } = await inTransaction(db, (tx) =>
      importFile({ tx, making, files, report }, opened, { include, replace: false, intoId: null }),
    );
    const imported = performance.now() - start;
    opened.archive.close();
    const copy = resultPath.split('/').at(-1) ?? '';
    const [{ same }] = (await db('scenes as one')
      .join('scenes as other', 'other.ordinal', 'one.ordinal')
      .where({ 'one.production_id': production, 'other.production_id': copy })
      .whereNotExists((apart) =>
        apart
          .from('scene_strips as a')
          .join('scene_strips as b', 'b.strip', 'a.strip')
          .whereRaw('a.scene_seq = one.seq AND b.scene_seq = other.seq AND a.strip_state_id <> b.strip_state_id')
          .select(db.raw('1')),
      )
      .count({ same: '*' })) as [{ same: number }];
    if (same !== scenes) throw new Error(`${same} of ${scenes} scenes have the same fingerprints`);
    print({
      name: `${scenes} scenes out of it as a copy, all with the same fingerprints, ${Math.round((highest - before) / MB)} MB more memory (other: the dump read back by mariadb)`,
      ours: imported,
      other: loaded,
      unit: 'ms',
      goal: { most: 300_000 },
    });
  } finally {
    rmSync(folder, { recursive: true });
  }
}
