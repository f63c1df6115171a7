export { PutBackScreen as default } from '../../../src/recall/preview-screen';
