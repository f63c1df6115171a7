export { WishesScreen as default } from '../../../src/features/wishes/wishes-screen';
