export { AccountPage } from './AccountPage.tsx';
export { PasswordPage } from './PasswordPage.tsx';
