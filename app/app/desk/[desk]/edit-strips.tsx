export { TogetherScreen as default } from '../../../src/desk/batch-edit-screen';
