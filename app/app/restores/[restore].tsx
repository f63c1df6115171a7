export { ToRestore as default } from '../../src/recall/to-its-desk';
