export { ClientLinksScreen as default } from '../../../src/people/client-links-screen';
