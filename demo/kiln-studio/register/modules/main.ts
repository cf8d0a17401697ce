import { platformBrowser } from '@angular/platform-browser'
import { RegisterModule } from './register.module'

platformBrowser()
  .bootstrapModule(RegisterModule)
  .catch((error) => console.error(error))
