export { ClientScreen as default } from '../../src/people/client-screen';
