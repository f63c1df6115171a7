export { ToPreview as default } from '../../../src/features/restore/to-its-desk';
