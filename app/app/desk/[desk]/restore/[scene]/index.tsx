export { ScopeScreen as default } from '../../../../../src/recall/scope-screen';
