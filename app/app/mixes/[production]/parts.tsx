export { PartsScreen as default } from '../../../src/features/parts/parts-screen';
