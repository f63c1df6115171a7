export { BinScreen as default } from '../../../src/scenes/bin-screen';
