/** A JSON column as a value: MariaDB hands it out as text. */
export const fromJson = (column: unknown): unknown => (typeof column === 'string' ? JSON.parse(column) : column);
