import { Box, type BoxProps } from '@chakra-ui/react'
import katex from 'katex'
import 'katex/dist/katex.min.css'
import { useLayoutEffect, useRef } from 'react'

/** A formula typeset from its TeX, with MathML for screen readers. */
export function Formula({ tex, ...box }: { tex: string } & Omit<BoxProps, 'children'>) {
  const place = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    // Built node by node: the content security policy forbids inline styles in markup.
    katex.render(tex, place.current!, { throwOnError: false, output: 'htmlAndMathml', strict: false })
  }, [tex])
  return (
    <Box
      ref={place}
      // Keeps the hidden MathML within the formula, so that it does not extend the page.
      position="relative"
      overflowX="auto"
      overflowY="hidden"
      css={{ '& .katex': { fontSize: '1.05em' } }}
      {...box}
    />
  )
}
