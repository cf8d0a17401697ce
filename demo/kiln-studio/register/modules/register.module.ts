import { HttpClientModule } from '@angular/common/http'
import { NgModule } from '@angular/core'
import { BrowserModule } from '@angular/platform-browser'
import { KilnRegisterComponent } from './kiln-register.component'
import { PieceRowComponent } from './piece-row.component'

const PARTS = [KilnRegisterComponent, PieceRowComponent]

@NgModule({
  declarations: [...PARTS],
  imports: [BrowserModule, HttpClientModule],
  bootstrap: [KilnRegisterComponent],
})
export class RegisterModule {}
