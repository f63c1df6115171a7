import type { PresetView } from '@old-echo/core/contracts/preset';
import type { PresetKind } from '@old-echo/core/library/preset';

/** Kinds as they are chosen from, in the order of how much they hold. */
export const KIND_NAMES: Readonly<Record<PresetKind, string>> = {
  processor: 'Processors',
  strip: 'Strips',
  'strip set': 'Strip sets',
  bus: 'Buses',
  patch: 'Patches',
  template: 'Templates',
};

const ONE: Readonly<Record<PresetKind, string>> = {
  processor: 'Processor preset',
  strip: 'Strip preset',
  'strip set': 'Strip set',
  bus: 'Bus preset',
  patch: 'Patch',
  template: 'Template',
};

/** "Processor preset, EQ". */
export const presetTypeLabel = ({ kind, gist }: Pick<PresetView, 'kind' | 'gist'>): string =>
  kind === 'strip' ? ONE[kind] : `${ONE[kind]} · ${gist}`;

/** Every word of what is looked for occurs in the name, folder, tags, note or kind. */
export function presetMatches(preset: PresetView, words: string): boolean {
  const text = [
    preset.name,
    preset.folder,
    ...preset.tags,
    preset.note,
    presetTypeLabel(preset),
    preset.by,
    preset.madeOn,
  ]
    .join(' ')
    .toLowerCase();
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}
