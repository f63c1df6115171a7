import escapeHtml from 'escape-html';

/** All that runs on a page for paper. */
export const PRINT = 'print()';

/** A page for paper, readable beside a desk without a computer; it asks to be printed when it is opened. */
export const printedPage = (title: string, body: string): string =>
  `<!doctype html><html lang="en"><meta charset="utf-8"><title>${escapeHtml(title)}</title>
<style>
@page{size:A4;margin:14mm}
body{font:10pt/1.35 sans-serif;margin:2em;color:#000;background:#fff}
h1{font-size:17pt;margin:0 0 .3em}h2{font-size:12pt;margin:1.2em 0 .3em;break-after:avoid}
table{border-collapse:collapse;width:100%}td,th{text-align:left;padding:.25em .5em;border-bottom:1px solid #999;vertical-align:top}
tr,section{break-inside:avoid}.columns{columns:2;column-gap:2em}table{table-layout:fixed}td:first-child,th:first-child{width:7em}.was{color:#555;font-style:italic}
img{max-width:100%;max-height:70mm}@media print{body{margin:0}}
</style>
<h1>${escapeHtml(title)}</h1>${body}
<script>${PRINT}</script></html>`;
