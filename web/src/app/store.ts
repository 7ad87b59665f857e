import { configureStore } from '@reduxjs/toolkit'
import { useDispatch, useSelector } from 'react-redux'
import { api } from '../api/api.ts'
import { field } from '../field/fieldState.ts'
import { settings } from './settings.ts'

export const store = configureStore({
  reducer: { [api.reducerPath]: api.reducer, settings: settings.reducer, field: field.reducer },
  middleware: (defaults) => defaults().concat(api.middleware),
})

export const useAppSelector = useSelector.withTypes<ReturnType<typeof store.getState>>()
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>()
export type AppDispatch = typeof store.dispatch
