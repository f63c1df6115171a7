export { PartsScreen as default } from '../../../src/library/parts-screen';
