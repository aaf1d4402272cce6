"""The one API: errors, sign-in and shared shapes; no words of the trade."""
