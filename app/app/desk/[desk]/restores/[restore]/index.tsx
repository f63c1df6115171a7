export { RestoreScreen as default } from '../../../../../src/features/restore/restore-screen';
