import { id, newApproval, newPlan, plan, stepTime } from '@cold-thread/contract'
import { z } from 'zod'
import { AppError } from '../errors.ts'
import { accountOf, EVERYBODY, FIELD, LEADS } from '../plugins/access.ts'
import { requireCallout } from '../stores/callouts.ts'
import { addPlan, approvePlan, listPlans, listStepTimes } from '../stores/plans.ts'
import { requirePlant } from '../stores/plants.ts'
import { answers, type App } from './schema.ts'

const ofCallout = z.object({ id })
const ofPlan = z.object({ id, planId: id })

export function planRoutes(app: App): void {
  app.get(
    '/api/callouts/:id/plans',
    { config: { access: EVERYBODY }, schema: { params: ofCallout, response: answers(z.array(plan)) } },
    async (request) => listPlans((await requireCallout(request.params.id)).id),
  )

  app.put(
    '/api/callouts/:id/plans/:planId',
    { config: { access: FIELD }, schema: { params: ofPlan, body: newPlan, response: answers(plan) } },
    async (request) => {
      const { id: calloutId, planId } = request.params
      const { cable } = request.body.content
      await requireCallout(calloutId)
      if (!(await requirePlant()).cables.some((candidate) => candidate.id === cable))
        throw new AppError('invalid-request', `there is no cable "${cable}" in the plant`, 'body.content.cable')
      return addPlan(calloutId, planId, request.body, accountOf(request).displayName, new Date())
    },
  )

  app.put(
    '/api/callouts/:id/plans/:planId/approval',
    { config: { access: LEADS }, schema: { params: ofPlan, body: newApproval, response: answers(plan) } },
    (request) => {
      const { id: calloutId, planId } = request.params
      return approvePlan(calloutId, planId, request.body.remark, accountOf(request).displayName, new Date())
    },
  )

  app.get('/api/step-times', { config: { access: EVERYBODY }, schema: { response: answers(z.array(stepTime)) } }, () =>
    listStepTimes(),
  )
}
