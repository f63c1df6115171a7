export { ProductionPage as default } from '../../../src/scenes/production-page';
