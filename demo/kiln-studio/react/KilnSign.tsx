import type { ReactNode } from 'react'
import { useStudio } from './StudioProvider'

export default function KilnSign({ kiln, celsius, children }: { kiln: string; celsius: number; children?: ReactNode }) {
  const { theme, unit } = useStudio()
  const reading = unit === 'F' ? Math.round(celsius * 1.8 + 32) : celsius
  return (
    <figure className={`kiln-sign ${theme}`}><figcaption>{kiln}</figcaption><output>{reading} °{unit}</output>{children}</figure>
  )
}
