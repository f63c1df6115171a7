export { PutBackScreen as default } from '../../../src/features/restore/preview-screen';
