export { HallsScreen as default } from '../../../src/library/venues-screen';
