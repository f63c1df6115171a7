export { ConvertScreen as default } from '../../src/library/convert-screen';
