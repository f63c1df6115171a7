export { ChangesScreen as default } from '../src/people/changes-screen';
