export { NothingHere as default } from '../src/shell/nothing-here';
