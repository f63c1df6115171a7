export { WireScreen as default } from '../../../src/desk/wire-screen';
