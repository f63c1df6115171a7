import { MAX_TAG_LENGTH } from '@old-echo/core/contracts/scene';

/** "loud, second half" as tags. */
export const parseTags = (text: string): string[] => [
  ...new Set(
    text
      .split(',')
      .map((tag) => tag.trim().slice(0, MAX_TAG_LENGTH))
      .filter(Boolean),
  ),
];
