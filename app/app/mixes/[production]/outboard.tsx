export { OutboardScreen as default } from '../../../src/features/parts/outboard-screen';
