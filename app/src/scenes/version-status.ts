import type { Work } from '@old-echo/core/contracts/production';

/** The state of work of a version, in words. */
export const WORK_WORDS: Readonly<Record<Work, string>> = {
  working: 'In work',
  sent: 'Sent out',
  approved: 'Approved',
};
