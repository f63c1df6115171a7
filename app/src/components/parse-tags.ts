import { LONGEST_TAG } from '@old-echo/core/contracts/scene';

/** "loud, second half" as tags. */
export const tagsIn = (text: string): string[] => [
  ...new Set(
    text
      .split(',')
      .map((tag) => tag.trim().slice(0, LONGEST_TAG))
      .filter(Boolean),
  ),
];
