export { DevicesScreen as default } from '../src/people/devices-screen';
