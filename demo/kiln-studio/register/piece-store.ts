import { HttpClient } from '@angular/common/http'
import { Injectable } from '@angular/core'
import { Observable } from 'rxjs'

export interface Piece {
  id: number
  name: string
}

/** What stands on the shelves, as the server knows it. */
@Injectable({ providedIn: 'root' })
export class PieceStore {
  constructor(private readonly http: HttpClient) {}

  all(shelf: string): Observable<Piece[]> {
    return this.http.get<Piece[]>(`/api/shelves/${shelf}`)
  }

  add(shelf: string, name: string): Observable<Piece> {
    return this.http.post<Piece>(`/api/shelves/${shelf}`, { name })
  }

  rename(piece: Piece, name: string): Observable<Piece> {
    return this.http.put<Piece>(`/api/pieces/${piece.id}`, { name })
  }

  remove(piece: Piece): Observable<void> {
    return this.http.delete<void>(`/api/pieces/${piece.id}`)
  }
}
