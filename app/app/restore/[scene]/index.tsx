export { ToScope as default } from '../../../src/recall/to-its-desk';
