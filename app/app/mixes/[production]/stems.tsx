export { StemsScreen as default } from '../../../src/sound/stems-screen';
