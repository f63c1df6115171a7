export { CarryScreen as default } from '../../src/library/convert-screen';
