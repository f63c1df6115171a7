/** One thing in a column: the name of a family, or a strip. */
export type GlanceEntry = { readonly heading: string } | { readonly strip: string };

/** The least that a strip can be read and touched at, in pixels; less of each on a small screen held sideways. */
export interface LeastSize {
  readonly width: number;
  readonly height: number;
}

interface GlanceColumns {
  readonly columns: readonly (readonly GlanceEntry[])[];
  /** Of each entry, in pixels. */
  readonly height: number;
}

/**
 * Families one after the other in columns that are read from top to bottom, so that all of them fit, in as few columns as can be.
 * Where they cannot fit, the columns are as wide as they have to be, and go on below the screen. No heading stands alone at the foot
 * of a column.
 * @param width of the room there is, in pixels
 * @param height of it
 */
export function glanceColumns(
  entries: readonly GlanceEntry[],
  width: number,
  height: number,
  least: LeastSize,
): GlanceColumns {
  const most = Math.max(1, Math.floor(width / least.width));
  const fitting = Math.max(1, Math.floor(height / least.height));
  for (let count = 1; count <= most; count++) {
    // With headings pushed on, a column more may be needed than there are entries for.
    for (let rows = Math.ceil(entries.length / count); rows <= fitting; rows++) {
      const columns = inColumns(entries, rows);
      if (columns.length <= count) return { columns, height: Math.floor(height / rows) };
    }
  }
  let rows = Math.ceil(entries.length / most);
  while (inColumns(entries, rows).length > most) rows++;
  return { columns: inColumns(entries, rows), height: least.height };
}

function inColumns(entries: readonly GlanceEntry[], rows: number): GlanceEntry[][] {
  const columns: GlanceEntry[][] = [];
  entries.forEach((entry, i) => {
    const last = columns.at(-1);
    const isAlone = 'heading' in entry && last?.length === rows - 1 && i < entries.length - 1 && rows > 1;
    if (last && last.length < rows && !isAlone) last.push(entry);
    else columns.push([entry]);
  });
  return columns;
}
