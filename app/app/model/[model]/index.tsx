export { ModelScreen as default } from '../../../src/desk/model/model-screen';
