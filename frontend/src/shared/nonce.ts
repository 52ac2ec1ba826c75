/** The nonce that the server put into this page, for styles made at run time. */
export function styleNonce(): string | undefined {
  return document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce || undefined;
}
