export { NothingHere as default } from '../src/features/shell/nothing-here';
