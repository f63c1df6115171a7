/** A name without what a file may not be called. */
export const fileName = (name: string): string => name.replace(/[^\p{L}\p{N} ,–-]/gu, '');
