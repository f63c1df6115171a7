export { PlacementScreen as default } from '../../../../src/recall/preview-screen';
