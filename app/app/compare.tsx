export { CompareScreen as default } from '../src/features/compare/compare-screen';
