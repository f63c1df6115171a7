/** A piece of a sentence; bold pieces carry what is decided. */
export interface Phrase {
  readonly text: string;
  readonly tone?: 'bold' | 'safe';
}

/** A sentence as one line of text. */
export const plainText = (phrases: readonly Phrase[]): string => phrases.map(({ text }) => text).join('');
