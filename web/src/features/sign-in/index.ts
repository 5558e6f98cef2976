export { SignIn } from './sign-in';
