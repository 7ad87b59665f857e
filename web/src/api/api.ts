import type {
  Account,
  Callout,
  CalloutEdit,
  Credentials,
  FirstAccount,
  KitRecord,
  NewAccount,
  NewApproval,
  NewCallout,
  NewObservation,
  NewPlan,
  NewSignOff,
  Observation,
  Plan,
  PlantRecord,
  SessionState,
  ShotStages,
  SignOff,
  SimulatedShot,
  StepTime,
  CableSurveyRecord,
  SurveyReading,
  SurveyUpload,
  TraceRecord,
  TraceUpload,
  VerdictRecord,
} from '@cold-thread/contract'
import type { Kit } from '@cold-thread/core/kit'
import type { PlantBundle } from '@cold-thread/core/plant'
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react'

type WithId<T> = T & { id: string }
type OfCallout<T> = T & { calloutId: string; id: string }

/** Everything the pages ask of the server. Ids of what is made are made here, so that a repeated write does no harm. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api' }),
  tagTypes: ['Session', 'Accounts', 'Plant', 'Callouts', 'Traces', 'Log', 'Verdict', 'Survey', 'Kit', 'Plans'],
  endpoints: (build) => ({
    session: build.query<SessionState, void>({ query: () => 'session', providesTags: ['Session'] }),
    signIn: build.mutation<SessionState, Credentials>({
      query: (body) => ({ url: 'session', method: 'POST', body }),
      invalidatesTags: ['Session', 'Accounts', 'Plant', 'Callouts', 'Traces', 'Log', 'Verdict', 'Kit', 'Plans'],
    }),
    signOut: build.mutation<SessionState, void>({
      query: () => ({ url: 'session', method: 'DELETE' }),
      invalidatesTags: ['Session'],
    }),
    setUp: build.mutation<SessionState, FirstAccount>({
      query: (body) => ({ url: 'setup', method: 'POST', body }),
      invalidatesTags: ['Session'],
    }),
    accounts: build.query<Account[], void>({ query: () => 'accounts', providesTags: ['Accounts'] }),
    addAccount: build.mutation<Account, NewAccount>({
      query: ({ id, ...body }) => ({ url: `accounts/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Accounts'],
    }),
    plant: build.query<PlantRecord, void>({ query: () => 'plant', providesTags: ['Plant'] }),
    savePlant: build.mutation<PlantRecord, { bundle: PlantBundle; version: number }>({
      query: (body) => ({ url: 'plant', method: 'PUT', body }),
      invalidatesTags: ['Plant'],
    }),
    kit: build.query<KitRecord, void>({ query: () => 'kit', providesTags: ['Kit'] }),
    saveKit: build.mutation<KitRecord, { kit: Kit; version: number }>({
      query: (body) => ({ url: 'kit', method: 'PUT', body }),
      invalidatesTags: ['Kit'],
    }),
    plans: build.query<Plan[], string>({ query: (id) => `callouts/${id}/plans`, providesTags: ['Plans'] }),
    addPlan: build.mutation<Plan, OfCallout<{ plan: NewPlan }>>({
      query: ({ calloutId, id, plan }) => ({ url: `callouts/${calloutId}/plans/${id}`, method: 'PUT', body: plan }),
      invalidatesTags: ['Plans', 'Callouts'],
    }),
    approvePlan: build.mutation<Plan, OfCallout<{ approval: NewApproval }>>({
      query: ({ calloutId, id, approval }) => ({
        url: `callouts/${calloutId}/plans/${id}/approval`,
        method: 'PUT',
        body: approval,
      }),
      invalidatesTags: ['Plans', 'Callouts'],
    }),
    stepTimes: build.query<StepTime[], void>({ query: () => 'step-times', providesTags: ['Log'] }),
    callouts: build.query<Callout[], void>({ query: () => 'callouts', providesTags: ['Callouts'] }),
    callout: build.query<Callout, string>({ query: (id) => `callouts/${id}`, providesTags: ['Callouts'] }),
    addCallout: build.mutation<Callout, WithId<NewCallout>>({
      query: ({ id, ...body }) => ({ url: `callouts/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Callouts'],
    }),
    editCallout: build.mutation<Callout, WithId<CalloutEdit>>({
      query: ({ id, ...body }) => ({ url: `callouts/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Callouts'],
    }),
    traces: build.query<TraceRecord[], string>({ query: (id) => `callouts/${id}/traces`, providesTags: ['Traces'] }),
    baselines: build.query<TraceRecord[], string>({
      query: (linkId) => `links/${encodeURIComponent(linkId)}/baselines`,
      providesTags: ['Traces'],
    }),
    uploadTrace: build.mutation<TraceRecord, OfCallout<{ facts: TraceUpload; file: Blob }>>({
      query: ({ calloutId, id, facts, file }) => upload(`callouts/${calloutId}/traces/${id}`, facts, file),
      invalidatesTags: ['Traces', 'Callouts', 'Verdict'],
    }),
    uploadBaseline: build.mutation<TraceRecord, { linkId: string; id: string; facts: TraceUpload; file: Blob }>({
      query: ({ linkId, id, facts, file }) =>
        upload(`links/${encodeURIComponent(linkId)}/baselines/${id}`, facts, file),
      invalidatesTags: ['Traces', 'Verdict'],
    }),
    shoot: build.mutation<TraceRecord, OfCallout<{ shot: SimulatedShot }>>({
      query: ({ calloutId, id, shot }) => ({ url: `callouts/${calloutId}/shots/${id}`, method: 'PUT', body: shot }),
      invalidatesTags: ['Traces', 'Callouts', 'Verdict'],
    }),
    shotStages: build.query<ShotStages, OfCallout<{ shot: SimulatedShot }>>({
      query: ({ calloutId, id, shot }) => ({ url: `callouts/${calloutId}/shots/${id}`, params: shot }),
    }),
    withdrawTrace: build.mutation<TraceRecord, string>({
      query: (id) => ({ url: `traces/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Traces', 'Callouts', 'Verdict'],
    }),
    survey: build.query<CableSurveyRecord | null, string>({
      query: (id) => `callouts/${id}/survey`,
      providesTags: ['Survey'],
    }),
    /** One file of many: the survey is asked for anew when all have gone. */
    uploadSurveyTrace: build.mutation<SurveyReading, OfCallout<{ facts: SurveyUpload; file: Blob }>>({
      query: ({ calloutId, id, facts, file }) => upload(`callouts/${calloutId}/survey/${id}`, facts, file),
    }),
    withdrawSurvey: build.mutation<null, string>({
      query: (id) => ({ url: `callouts/${id}/survey`, method: 'DELETE' }),
      invalidatesTags: ['Survey'],
    }),
    observations: build.query<Observation[], string>({
      query: (id) => `callouts/${id}/observations`,
      providesTags: ['Log'],
    }),
    addObservation: build.mutation<Observation, OfCallout<{ observation: NewObservation }>>({
      query: ({ calloutId, id, observation }) => ({
        url: `callouts/${calloutId}/observations/${id}`,
        method: 'PUT',
        body: observation,
      }),
      invalidatesTags: ['Log', 'Callouts', 'Verdict'],
    }),
    verdict: build.query<VerdictRecord, string>({ query: (id) => `callouts/${id}/verdict`, providesTags: ['Verdict'] }),
    signOff: build.query<SignOff | null, string>({
      query: (id) => `callouts/${id}/sign-off`,
      providesTags: ['Verdict'],
    }),
    addSignOff: build.mutation<SignOff, OfCallout<{ signOff: NewSignOff }>>({
      query: ({ calloutId, id, signOff }) => ({
        url: `callouts/${calloutId}/sign-off/${id}`,
        method: 'PUT',
        body: signOff,
      }),
      invalidatesTags: ['Verdict', 'Callouts'],
    }),
  }),
})

function upload(path: string, facts: TraceUpload | SurveyUpload, file: Blob) {
  const query = new URLSearchParams()
  for (const [key, value] of Object.entries(facts)) if (value !== undefined) query.set(key, String(value))
  return { url: `${path}?${query}`, method: 'PUT', body: file, headers: { 'content-type': 'application/octet-stream' } }
}

export const {
  useSessionQuery,
  useSignInMutation,
  useSignOutMutation,
  useSetUpMutation,
  useAccountsQuery,
  useAddAccountMutation,
  usePlantQuery,
  useSavePlantMutation,
  useKitQuery,
  useSaveKitMutation,
  usePlansQuery,
  useAddPlanMutation,
  useApprovePlanMutation,
  useStepTimesQuery,
  useCalloutsQuery,
  useCalloutQuery,
  useAddCalloutMutation,
  useEditCalloutMutation,
  useTracesQuery,
  useBaselinesQuery,
  useUploadTraceMutation,
  useUploadBaselineMutation,
  useShootMutation,
  useShotStagesQuery,
  useWithdrawTraceMutation,
  useSurveyQuery,
  useUploadSurveyTraceMutation,
  useWithdrawSurveyMutation,
  useObservationsQuery,
  useAddObservationMutation,
  useVerdictQuery,
  useSignOffQuery,
  useAddSignOffMutation,
} = api
