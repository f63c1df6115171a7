export { OutboardScreen as default } from '../../../src/library/outboard-screen';
