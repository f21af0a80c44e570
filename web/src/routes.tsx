import { createBrowserRouter } from 'react-router'
import { App } from './App'
import { Broken } from './Broken'
import { Lost } from './Lost'
import { ShelfPage } from './shelf/ShelfPage'

export const router = createBrowserRouter([
  {
    Component: App,
    ErrorBoundary: Broken,
    HydrateFallback: () => null,
    children: [
      { index: true, Component: ShelfPage },
      { path: 'cabinet', lazy: async () => ({ Component: (await import('./cabinet/CabinetPage')).CabinetPage }) },
      { path: 'cabinet/lots', lazy: async () => ({ Component: (await import('./lots/LotsPage')).LotsPage }) },
      { path: 'cabinet/lots/:id', lazy: async () => ({ Component: (await import('./lots/LotPage')).LotPage }) },
      { path: 'start/:way?', lazy: async () => ({ Component: (await import('./start/StartPage')).StartPage }) },
      { path: 'lights/:id/:stage?', lazy: async () => ({ Component: (await import('./frame/LightPage')).LightPage }) },
      { path: '*', Component: Lost },
    ],
  },
])
