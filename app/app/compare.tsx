export { CompareScreen as default } from '../src/compare/compare-screen';
