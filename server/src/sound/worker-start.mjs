import { register } from 'tsx/esm/api';

// A thread does not read TypeScript by itself, even where the program that starts it does.
register();
await import('./worker.ts');
