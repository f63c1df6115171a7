import type { Knex } from 'knex';

import * as first from './001-first';
import * as history from './002-history';
import * as recall from './003-recall';
import * as sound from './004-sound';
import * as blindTests from './005-blind-tests';
import * as silentStems from './006-silent-stems';
import * as combining from './007-combining';
import * as following from './008-following';
import * as library from './009-library';
import * as parts from './010-parts';
import * as files from './011-files';
import * as stemPeaks from './012-stem-peaks';
import * as baselines from './013-baselines';
import * as ordinals from './014-ordinals';
import * as takenBack from './015-taken-back';
import * as safe from './016-safe';
import * as namesAndJobs from './017-names-and-jobs';
import * as making from './018-making';
import * as columns from './019-columns';
import * as sceneReplacements from './020-scene-replacements';
import * as venueNotes from './021-venue-notes';
import * as worksOn from './022-works-on';
import * as removedDesks from './023-removed-desks';
import * as manualDesks from './024-manual-desks';
import * as changedModels from './025-changed-models';
import * as devices from './026-devices';
import * as people from './027-people';
import * as clientLinks from './028-client-links';
import * as timeReferences from './029-time-references';
import * as whatAStemCameFrom from './030-what-a-stem-came-from';

const list: Record<string, Knex.Migration> = {
  '001-first': { up: first.up, down: refuse },
  '002-history': { up: history.up, down: refuse },
  '003-recall': { up: recall.up, down: refuse },
  '004-sound': { up: sound.up, down: refuse },
  '005-blind-tests': { up: blindTests.up, down: refuse },
  '006-silent-stems': { up: silentStems.up, down: refuse },
  '007-combining': { up: combining.up, down: refuse },
  '008-following': { up: following.up, down: refuse },
  '009-library': { up: library.up, down: refuse },
  '010-parts': { up: parts.up, down: refuse },
  '011-files': { up: files.up, down: refuse },
  '012-stem-peaks': { up: stemPeaks.up, down: refuse },
  '013-baselines': { up: baselines.up, down: refuse },
  '014-ordinals': { up: ordinals.up, down: refuse },
  '015-taken-back': { up: takenBack.up, down: refuse },
  '016-safe': { up: safe.up, down: refuse },
  '017-names-and-jobs': { up: namesAndJobs.up, down: refuse },
  '018-making': { up: making.up, down: refuse },
  '019-columns': { up: columns.up, down: refuse },
  '020-scene-replacements': { up: sceneReplacements.up, down: refuse },
  '021-venue-notes': { up: venueNotes.up, down: refuse },
  '022-works-on': { up: worksOn.up, down: refuse },
  '023-removed-desks': { up: removedDesks.up, down: refuse },
  '024-manual-desks': { up: manualDesks.up, down: refuse },
  '025-changed-models': { up: changedModels.up, down: refuse },
  '026-devices': { up: devices.up, down: refuse },
  '027-people': { up: people.up, down: refuse },
  '028-client-links': { up: clientLinks.up, down: refuse },
  '029-time-references': { up: timeReferences.up, down: refuse },
  '030-what-a-stem-came-from': { up: whatAStemCameFrom.up, down: refuse },
};

/** Migrations only go forward; a way down would have to throw people's scenes away. */
function refuse(): Promise<void> {
  return Promise.reject(new Error('Old Echo does not migrate backwards; restore a backup instead.'));
}

export const migrations: Knex.MigrationSource<string> = {
  getMigrations: () => Promise.resolve(Object.keys(list).sort()),
  getMigrationName: (name) => name,
  getMigration: (name) => Promise.resolve(list[name] as Knex.Migration),
};
