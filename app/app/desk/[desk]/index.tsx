export { DeskScreen as default } from '../../../src/desk/desk-screen';
