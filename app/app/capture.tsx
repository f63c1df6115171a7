export { ToCapture as default } from '../src/recall/to-its-desk';
