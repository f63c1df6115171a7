export { ByEyeScreen as default } from '../../../src/desk/by-eye-screen';
