export { AnyProduction as default } from '../../src/features/mixes/any-production';
