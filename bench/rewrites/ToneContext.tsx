import { createContext, useContext, useState } from 'react'

const Tone = createContext<{ tone: string; turn(): void }>({ tone: 'light', turn() {} })

function Turn() {
  const { tone, turn } = useContext(Tone)
  return (
    <button type="button" aria-pressed={tone === 'dark'} onClick={turn}>
      Dark
    </button>
  )
}

export default function ToneSwitch({ start = 'light', onTone }: { start?: 'light' | 'dark'; onTone?: (tone: string) => void }) {
  const [tone, setTone] = useState<string>(start)
  const turn = () => {
    const next = tone === 'dark' ? 'light' : 'dark'
    setTone(next)
    onTone?.(next)
  }
  return (
    <Tone.Provider value={{ tone, turn }}>
      <div className="tone-switch">
        <Turn />
        <output>{tone}</output>
      </div>
    </Tone.Provider>
  )
}
