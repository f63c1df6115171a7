export { CombineScreen as default } from '../src/features/combine/combine-screen';
