export { ProductionsScreen as default } from '../src/features/mixes/productions-screen';
