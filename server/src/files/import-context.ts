import type { Database } from '../database/connect';
import type { SoundFiles } from '../database/file-store';

/** How far it is; throws where someone has asked to cancel. */
export type Beat = (done: number, total: number) => Promise<void>;

export interface Tools {
  readonly db: Database;
  readonly files: SoundFiles;
  readonly beat: Beat;
}

export interface BroughtIn {
  readonly href: string;
  /** What else became of it, in sentences; empty where nothing else did. */
  readonly note: string;
}
