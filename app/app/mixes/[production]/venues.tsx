export { VenuesScreen as default } from '../../../src/library/venues-screen';
