import { ask } from './running-server.mjs';

/** Prints what lets somebody in, for a camera and in words: who is known by that name, or somebody new. */
export async function showCode(address, name, role) {
  const known = (await ask(address, 'GET', '/people')).find((one) => one.name.toLowerCase() === name.toLowerCase());
  const who = known ? { personId: known.id } : { name, role };
  const { code, addresses } = await ask(address, 'POST', '/entry-codes', who);
  const { default: qrcode } = await import('qrcode-generator');
  const picture = qrcode(0, 'M');
  picture.addData(`${addresses[0]}/enter?code=${code}`);
  picture.make();
  console.log(`\n${picture.createASCII(1, 2)}`);
  console.log(
    `${known?.name ?? name} gets in at ${addresses.join(' or ')} by the code ${code.slice(0, 5)} ${code.slice(5)}.`,
  );
  console.log('It is good once, for two minutes. Another one: npm run let-in.');
}
