export { CarryingScreen as default } from '../../src/features/carry/carrying-screen';
