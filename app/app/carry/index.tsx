export { CarryScreen as default } from '../../src/features/carry/carry-screen';
