export { DeskPlaceScreen as default } from '../src/desk/desk-place-screen';
