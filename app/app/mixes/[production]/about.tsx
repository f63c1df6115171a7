export { ProductionPage as default } from '../../../src/features/mixes/production-page';
