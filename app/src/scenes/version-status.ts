import type { VersionStatus } from '@old-echo/core/contracts/production';

/** The state of work of a version, in words. */
export const STATUS_NAMES: Readonly<Record<VersionStatus, string>> = {
  working: 'In progress',
  sent: 'Sent',
  approved: 'Approved',
};
