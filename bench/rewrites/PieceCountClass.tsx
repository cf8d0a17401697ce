import { Component, type ReactNode } from 'react'

interface PieceCountProps {
  pieces: number
  most?: number
  locked?: boolean
  onPiecesChange?: (pieces: number) => void
  onFull?: () => void
  children?: ReactNode
}

export default class PieceCount extends Component<PieceCountProps> {
  static defaultProps = { most: 12, locked: false }

  private get room() {
    return Math.max(0, this.props.most! - this.props.pieces)
  }

  private add = () => {
    const { locked, pieces, onPiecesChange, onFull } = this.props
    const room = this.room
    if (locked || room === 0) return
    onPiecesChange?.(pieces + 1)
    if (room === 1) onFull?.()
  }

  render() {
    const { pieces, most, locked, children } = this.props
    return (
      <section className="piece-count">
        <h3>{`${pieces} of ${most}`}</h3>
        <button type="button" disabled={locked || this.room === 0} onClick={this.add}>
          Add a piece
        </button>
        {this.room === 0 ? <p role="status">The shelf is full</p> : null}
        {children ?? 'Nothing more to say'}
      </section>
    )
  }
}
