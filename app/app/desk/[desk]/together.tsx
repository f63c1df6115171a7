export { TogetherScreen as default } from '../../../src/features/desk/together-screen';
