export { CombineScreen as default } from '../src/combine/combine-screen';
