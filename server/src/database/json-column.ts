/** A JSON column as a value: MariaDB hands it out as text. */
export const parseJsonColumn = (column: unknown): unknown => (typeof column === 'string' ? JSON.parse(column) : column);
