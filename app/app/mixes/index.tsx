export { MixesScreen as default } from '../../src/features/mixes/mixes-screen';
