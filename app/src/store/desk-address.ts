import type { Href } from 'expo-router';

/** An address below that of a desk: whatever is done to a desk has it in its address. */
export const deskHref = (deskId: string, below = ''): Href => `/desk/${deskId}${below && `/${below}`}`;
