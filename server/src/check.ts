import { existsSync } from 'node:fs';

import { connect } from './database/connect';
import { soundFiles } from './database/file-store';
import { readConfig } from './http/config';
import { verifyStorage } from './scenes/verify-storage';

/** Looks whether all that is stored is whole. Prints how much there is as JSON, or ends with 1 and a sentence. */
async function main(): Promise<void> {
  const config = readConfig(process.env);
  const db = await connect(config);
  try {
    const { scenes, stripStates, incomplete, spoiled } = await verifyStorage(db);
    const files = soundFiles(config.files);
    const named: string[] = await db('stems').distinct('hash').pluck('hash');
    const missing = named.filter((hash) => !existsSync(files.stem(hash)));
    const faults = [
      incomplete.length > 0 && `${incomplete.length} scenes lack strips.`,
      spoiled > 0 && `${spoiled} strip states are not what their fingerprints say.`,
      missing.length > 0 && `${missing.length} stems are missing.`,
    ].filter(Boolean);
    if (faults.length > 0) throw new Error(faults.join(' '));
    console.log(JSON.stringify({ scenes, stripStates, stems: named.length }));
  } finally {
    await db.destroy();
  }
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
});
