interface Wanted {
  readonly accept: string;
  readonly multiple?: boolean;
}

/** Asks for files with the browser's own dialogue. */
export function chooseFiles({ accept, multiple = false }: Wanted, then: (files: readonly File[]) => void): void {
  const input = document.createElement('input');
  [input.type, input.accept, input.multiple] = ['file', accept, multiple];
  input.onchange = () => then([...(input.files ?? [])]);
  input.click();
}
