/** What was removed with one touch can be given back under this id. */
export interface Removal {
  readonly removal: string;
}
