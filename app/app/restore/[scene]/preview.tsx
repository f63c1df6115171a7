export { ToPreview as default } from '../../../src/recall/to-its-desk';
