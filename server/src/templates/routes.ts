import { API, type ListedTemplate } from '@apokinema/core/api'
import { type ReportTemplate, readTemplate } from '@apokinema/core/report'
import Router from '@koa/router'
import { checked, uuidOf } from '../investigations/routes.ts'
import { LOCAL_PERSON, may } from '../people.ts'
import { notFound, Problem } from '../problem.ts'
import type { Services } from '../services.ts'

/** Most templates that a person can keep. */
const MOST = 100

/** A row of the table of templates. */
interface TemplateRow {
  id: string
  owner_id: string
  name: string
  template: ReportTemplate
}

/** Routes of reports that are kept for other investigations. */
export function templateRoutes({ database }: Services): Router {
  const router = new Router()
  const own = () => database<TemplateRow>('report_templates').where({ owner_id: LOCAL_PERSON.id })

  router.get(API.templates, async (context) => {
    const rows = await own().orderBy('created_at').orderBy('id').select('id', 'name')
    context.body = rows satisfies ListedTemplate[]
  })

  router.get(API.template(':id'), async (context) => {
    const row = await own()
      .where({ id: uuidOf(context.params.id) })
      .first()
    if (!row || !may(LOCAL_PERSON, 'see', row)) throw notFound()
    context.body = row.template
  })

  router.put(API.template(':id'), async (context) => {
    const id = uuidOf(context.params.id)
    const template = checked(() => readTemplate(context.request.body))
    const [{ count }] = await own().whereNot({ id }).count({ count: '*' })
    if (Number(count) >= MOST)
      throw new Problem(
        409,
        'too-many-templates',
        `There are ${MOST} templates already. Delete one that is no longer needed.`,
      )
    const stored = await database<TemplateRow>('report_templates')
      .insert({
        id,
        owner_id: LOCAL_PERSON.id,
        name: template.name,
        template: JSON.stringify(template) as unknown as ReportTemplate,
      })
      .onConflict('id')
      .merge(['name', 'template'])
      .where('report_templates.owner_id', LOCAL_PERSON.id)
      .returning('id')
    if (stored.length === 0) throw notFound()
    context.status = 204
  })

  router.delete(API.template(':id'), async (context) => {
    await own()
      .where({ id: uuidOf(context.params.id) })
      .delete()
    context.status = 204
  })

  return router
}
