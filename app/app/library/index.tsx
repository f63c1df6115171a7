export { LibraryScreen as default } from '../../src/library/library-screen';
