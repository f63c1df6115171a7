export { PutScreen as default } from '../../src/library/apply-screen';
