import type { PresetSource } from '@old-echo/core/library/apply-preset';

import type { LiveDesk } from '../store/use-live-desk';

/** What something that is put on the desk is shown with. */
export interface PutProps {
  readonly now: LiveDesk;
  readonly source: PresetSource;
  readonly title: string;
  /** The preset and its edition, so that strips know where they came from. */
  readonly preset: { readonly presetId: string; readonly edition: number } | null;
  readonly first: readonly string[];
  readonly onBack: () => void;
}
