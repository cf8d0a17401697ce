import { createContext, useContext, type ReactNode } from 'react'

interface Studio {
  theme: 'day' | 'night'
  unit: 'C' | 'F'
}
const Context = createContext<Studio | null>(null)

export function useStudio(): Studio {
  const studio = useContext(Context)
  if (!studio) throw new Error('a KilnSign stands in a StudioProvider')
  return studio
}

export default function StudioProvider({ theme = 'day', unit = 'C', children }: { theme?: 'day' | 'night'; unit?: 'C' | 'F'; children?: ReactNode }) {
  return <Context value={{ theme, unit }}>{children}</Context>
}
