export { RippleScreen as default } from '../../../src/features/ripple/ripple-screen';
