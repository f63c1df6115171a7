export { HallsScreen as default } from '../../../src/features/parts/halls-screen';
