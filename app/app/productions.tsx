export { ProductionsScreen as default } from '../src/scenes/productions-screen';
