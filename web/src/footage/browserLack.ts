/** Returns what keeps this browser from decoding video at this address, in a sentence that says what to do; null if nothing does. */
export function browserLack(): string | null {
  if (typeof VideoDecoder !== 'undefined') return null
  return self.isSecureContext
    ? 'This browser can’t decode video picture by picture. Use a current Firefox, Chrome, Edge or Safari.'
    : 'This browser decodes video only on a secure address. Open Apokinema on this machine (127.0.0.1) or over https.'
}
