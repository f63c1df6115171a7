export { FileScreen as default } from '../../src/features/files/file-screen';
