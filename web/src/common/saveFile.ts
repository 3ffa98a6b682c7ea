/** Downloads a file through the browser. */
export function saveFile(content: Blob, name: string): void {
  const address = URL.createObjectURL(content)
  const link = document.createElement('a')
  link.href = address
  link.download = name
  link.click()
  URL.revokeObjectURL(address)
}

/** Downloads the file at an address. */
export function saveFrom(address: string): void {
  const link = document.createElement('a')
  link.href = address
  link.download = ''
  link.click()
}
