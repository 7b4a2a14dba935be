<!doctype html>
<html lang="en">
<head>
    <meta charset="utf-8">
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <title>Join the bench</title>
    <style>
        :root { color-scheme: light dark; }
        body { margin: 0; min-height: 100vh; display: grid; place-items: center; background: light-dark(#e6ebf2, #0e1430); color: light-dark(#1f2a5c, #dfe7ff); font: 18px/1.5 system-ui, sans-serif; }
        form { display: grid; gap: 12px; padding: 24px; max-width: 22rem; border: 1px solid currentColor; background: light-dark(#f7f9fb, #151c3d); }
        h1 { margin: 0; font-size: 24px; }
        p { margin: 0; }
        input, button { font: inherit; padding: 8px; border: 1px solid currentColor; background: transparent; color: inherit; }
        button { background: light-dark(#1f2a5c, #dfe7ff); color: light-dark(#f7f9fb, #0e1430); }
        .wrong { color: light-dark(#b4232f, #ff8078); font-weight: 600; }
    </style>
</head>
<body>
<main>
    <form method="post" action="/join">
        <h1>Join the bench</h1>
        <p>Type the passphrase that was chosen when Zap Trace was started.</p>
        @if ($wrong !== '')
            <p class="wrong" role="alert">{{ $wrong }}</p>
        @endif
        <label for="passphrase">Passphrase</label>
        <input id="passphrase" name="passphrase" type="password" autocomplete="current-password" required autofocus>
        <button>Join</button>
    </form>
</main>
</body>
</html>
