import { Box, type BoxProps } from '@chakra-ui/react'
import katex from 'katex'
import 'katex/dist/katex.min.css'
import { useLayoutEffect, useRef } from 'react'

/** A formula, typeset from its TeX; screen readers are told it as MathML. */
export function Formula({ tex, ...box }: { tex: string } & Omit<BoxProps, 'children'>) {
  const place = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    // Built node by node: the page's policy lets no markup bring styles of its own.
    katex.render(tex, place.current!, { throwOnError: false, output: 'htmlAndMathml', strict: false })
  }, [tex])
  return (
    <Box
      ref={place}
      // What only screen readers are told is laid out within it, not somewhere below the page.
      position="relative"
      overflowX="auto"
      overflowY="hidden"
      css={{ '& .katex': { fontSize: '1.05em' } }}
      {...box}
    />
  )
}
