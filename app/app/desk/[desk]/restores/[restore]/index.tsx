export { RestoreScreen as default } from '../../../../../src/recall/restore-screen';
