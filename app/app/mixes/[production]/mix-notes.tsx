export { MixNotesScreen as default } from '../../../src/combine/mix-notes-screen';
