export { PastScreen as default } from '../../../src/scenes/strip-history-screen';
