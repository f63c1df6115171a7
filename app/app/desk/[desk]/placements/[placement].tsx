export { PlacementScreen as default } from '../../../../src/features/restore/preview-screen';
