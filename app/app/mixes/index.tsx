export { MixesScreen as default } from '../../src/scenes/scenes-screen';
