export { FileScreen as default } from '../../src/files/import-screen';
