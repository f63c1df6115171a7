export { WishesScreen as default } from '../../../src/combine/mix-notes-screen';
