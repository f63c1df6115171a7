/** The production that an address names, for what is mounted under it. */
export const productionOf = (params: object): string => (params as { production: string }).production;
