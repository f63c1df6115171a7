export { ResumeScreen as default } from '../../../../../src/recall/preview-screen';
