export { PutScreen as default } from '../../src/features/library/put-screen';
