export { LogScreen as default } from '../../../src/recall/restore-log-screen';
