/** The production that an address names, for what is mounted under it. */
export const productionIdParam = (params: object): string => (params as { production: string }).production;
