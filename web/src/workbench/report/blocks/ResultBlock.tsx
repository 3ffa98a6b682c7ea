import { runsText, type Shown } from '@apokinema/words/report/shown'
import { Drawing } from './Drawing.tsx'
import { Runs } from './Runs.tsx'
import { residualsSvg } from './residualsSvg.ts'
import { TexBlock } from './TexBlock.tsx'

/** A fit, a reading, a comparison or a calculation: formulas, values and sentences. */
export function ResultBlock({
  result: { title, tex, rows, sentences, residuals },
}: {
  result: Extract<Shown, { kind: 'result' }>
}) {
  return (
    <div className="result">
      <p className="result-title">{title}</p>
      {tex.map((formula) => (
        <TexBlock key={formula} tex={formula} />
      ))}
      {rows.length > 0 && (
        <dl>
          {rows.map(([name, value]) => (
            <div key={runsText(name)}>
              <dt>
                <Runs runs={name} />
              </dt>
              <dd>{value}</dd>
            </div>
          ))}
        </dl>
      )}
      {residuals && (
        <div className="residuals" role="img" aria-label={residuals.alternative}>
          <Drawing svg={residualsSvg(residuals)} isOwn />
        </div>
      )}
      {sentences.map((sentence) => (
        <p key={sentence}>{sentence}</p>
      ))}
    </div>
  )
}
