import { Box } from '@chakra-ui/react'
import type { ComponentProps } from 'react'
import Markdown from 'react-markdown'
import remarkGfm from 'remark-gfm'
import remarkMath from 'remark-math'
import { Formula } from '../workbench/fits/Formula.tsx'

const PLUGINS = [remarkGfm, remarkMath]

/** Code, and formulas, which arrive as code of the language "math". */
function Code({ className = '', children, ...rest }: ComponentProps<'code'>) {
  if (!className.includes('language-math'))
    return (
      <code className={className} {...rest}>
        {children}
      </code>
    )
  const isInline = className.includes('math-inline')
  return (
    <Formula tex={String(children)} display={isInline ? 'inline-block' : 'block'} verticalAlign="middle" />
  )
}

/** A text in Markdown, with formulas between dollar signs. HTML in it is shown as text. */
export function HelpText({ text }: { text: string }) {
  return (
    <Box
      lineHeight="1.55"
      css={{
        '& h2, & h3': { fontWeight: 600, marginTop: '1rem', marginBottom: '0.25rem' },
        '& p': { marginBottom: '0.6rem' },
        '& ul, & ol': { paddingLeft: '1.2rem', marginBottom: '0.6rem' },
        '& ul': { listStyleType: 'disc' },
        '& ol': { listStyleType: 'decimal' },
        '& pre': { fontSize: 'small', overflowX: 'auto', marginBottom: '0.6rem' },
        '& code': { fontFamily: 'mono', fontSize: 'small' },
        '& table': { fontSize: 'small', marginBottom: '0.6rem' },
        '& td, & th': { padding: '2px 8px', textAlign: 'left', verticalAlign: 'top' },
        '& a': { color: 'petrol', textDecoration: 'underline' },
        // A formula in a paragraph is as high as its line.
        '& p div': { overflow: 'visible' },
      }}
    >
      <Markdown
        remarkPlugins={PLUGINS}
        components={{ code: Code, pre: ({ children }) => <pre>{children}</pre> }}
      >
        {text}
      </Markdown>
    </Box>
  )
}
