export { ConversionScreen as default } from '../../src/library/conversion-screen';
