/** Whether properties are tried as often as they can, and not only as often as everyone can wait for. */
export const FULL = process.env['OLD_ECHO_FAULT_TESTS'] === 'full';

/** How often a fault is tried: as often as is promised by `npm run faults`, a few times otherwise. */
export const times = (few: number, all: number): number => (FULL ? all : few);

/** How often a property is tried: a tenth of what `npm run faults` does. */
export const runs = (full: number): number => (FULL ? full : Math.max(20, full / 10));
