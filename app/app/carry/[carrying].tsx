export { CarryingScreen as default } from '../../src/library/conversion-screen';
