export { StagedSettingsScreen as default } from '../../../../src/recall/preview-screen';
