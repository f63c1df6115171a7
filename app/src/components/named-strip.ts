/** A strip, and what it is called. */
export interface NamedStrip {
  readonly strip: string;
  readonly name: string;
}
