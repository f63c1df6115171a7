export { RippleScreen as default } from '../src/recall/ripple-screen';
