export { PastScreen as default } from '../../../src/features/past/past-screen';
