export { FamilyScreen as default } from '../../../src/desk/model/family-screen';
