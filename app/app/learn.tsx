export { LearnScreen as default } from '../src/desk/learn-screen';
