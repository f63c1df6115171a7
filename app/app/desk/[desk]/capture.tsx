export { CaptureScreen as default } from '../../../src/features/capture/capture-screen';
