import { bootstrapApplication } from '@angular/platform-browser'
import { appConfig } from './app.config'
import { KilnRegister } from './kiln-register'

bootstrapApplication(KilnRegister, appConfig).catch((error) => console.error(error))
