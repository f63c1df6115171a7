export { ScopeScreen as default } from '../../../../../src/features/restore/scope-screen';
