import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

import type { SettingsByAddress } from '@old-echo/core/desk/state';

/** Moves are gathered for this long before they are written, in ms. */
const GATHER = 250;

/** Keeps a desk's settings in a file, so that they are still there after a restart. */
export class Keeper {
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly file: string,
    private readonly settings: () => SettingsByAddress,
  ) {}

  /** What was kept, or nothing where there is no file or it cannot be read. */
  static read(file: string): SettingsByAddress {
    if (!existsSync(file)) return {};
    try {
      return JSON.parse(readFileSync(file, 'utf8')) as SettingsByAddress;
    } catch {
      console.error(`${file} could not be read; the desk starts untouched.`);
      return {};
    }
  }

  soon(): void {
    this.timer ??= setTimeout(() => this.now(), GATHER);
  }

  /** Writes whole or not at all. Where that fails, as on a full disk, the desk goes on and the next move tries again. */
  now(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    try {
      mkdirSync(dirname(this.file), { recursive: true });
      writeFileSync(`${this.file}.new`, JSON.stringify(this.settings()));
      renameSync(`${this.file}.new`, this.file);
    } catch (error) {
      console.error(`The settings could not be kept in ${this.file}: ${(error as Error).message}`);
    }
  }
}
