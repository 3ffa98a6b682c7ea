/** Returns a short text that differs for different values (FNV-1a of their JSON text, 2 × 32 bits). */
export function digestOf(value: unknown): string {
  const text = JSON.stringify(value)
  let [a, b] = [0x811c9dc5, 0x1000193]
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i)
    a = Math.imul(a ^ code, 0x01000193)
    b = Math.imul(b ^ (code + i), 0x85ebca6b)
  }
  return [a, b].map((half) => (half >>> 0).toString(16).padStart(8, '0')).join('')
}
