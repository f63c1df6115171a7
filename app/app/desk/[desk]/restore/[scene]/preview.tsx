export { PreviewScreen as default } from '../../../../../src/recall/preview-screen';
