export { CaptureScreen as default } from '../../../src/scenes/capture-screen';
