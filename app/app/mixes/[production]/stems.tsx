export { StemsScreen as default } from '../../../src/features/stems/stems-screen';
