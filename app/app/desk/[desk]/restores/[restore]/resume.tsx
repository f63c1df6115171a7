export { ResumeScreen as default } from '../../../../../src/features/restore/preview-screen';
