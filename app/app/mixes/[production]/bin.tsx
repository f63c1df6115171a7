export { BinScreen as default } from '../../../src/features/mixes/bin-screen';
