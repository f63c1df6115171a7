/** Where somebody is in a song, and whether it plays: kept while mixes of it are rendered anew. */
export interface ListeningSpot {
  readonly get: () => { readonly place: number; readonly playing: boolean };
  readonly set: (at: { readonly place: number; readonly playing: boolean }) => void;
}

export function newListeningSpot(): ListeningSpot {
  let at = { place: 0, playing: false };
  return { get: () => at, set: (next) => void (at = { ...next }) };
}
