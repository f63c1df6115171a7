export { FilesScreen as default } from '../../src/features/files/files-screen';
