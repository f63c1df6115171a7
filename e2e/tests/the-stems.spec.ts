import { expect, test } from '@playwright/test';

import { writeWav } from '../../core/src/signal/wav';

const wav = (seconds: number) => {
  const samples = Float32Array.from({ length: 48_000 * seconds }, (_, i) => 0.2 * Math.sin(i / 20));
  return Buffer.from(writeWav({ rate: 48_000, channels: [samples] }, '16', false));
};

test('stems: a file finds its strip by its name; one that cannot be read says why; taken off again', async ({
  page,
}) => {
  const productions = (await (await page.request.get('/api/productions')).json()) as { id: string; name: string }[];
  const song = productions.find(({ name }) => name === 'Lanterns on the Quay')!;
  await page.goto(`/mixes/${song.id}/about`);
  await page.getByRole('button', { name: 'Stems' }).click();
  await expect(page.getByTestId('stem-in.1')).toContainText('Lanterns on the Quay 1.wav · 30.0 s · 48 kHz');
  await expect(page.getByTestId('stem-in.20')).toContainText('No stem');

  const attach = async (name: string, buffer: Buffer) => {
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: 'Attach files' }).click();
    await (await chooser).setFiles([{ name, mimeType: 'audio/wav', buffer }]);
  };
  await attach('20 Bowed saw.wav', wav(2));
  await expect(page.getByTestId('stem-in.20')).toContainText('20 Bowed saw.wav · 2.0 s · 48 kHz');
  await attach('21 broken.wav', wav(2).subarray(0, 5000));
  await expect(page.getByTestId('stem-in.21')).toContainText('The WAV file is cut off');
  await page.getByTestId('stem-in.21').getByRole('button').click();
  await expect(page.getByTestId('stem-in.21')).toContainText('No stem');
  await page
    .getByTestId('stem-in.20')
    .getByRole('button', { name: /^Remove the stem from/ })
    .click();
  await expect(page.getByTestId('stem-in.20')).toContainText('No stem');
});
