export { PreviewScreen as default } from '../../../../../src/features/restore/preview-screen';
