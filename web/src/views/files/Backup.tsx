/** Everything in one file. */
export function Backup() {
  return (
    <div>
      <h2>Backup</h2>
      <p>
        <a href="/api/v1/backup" download>
          Everything in one file
        </a>
        <span className="route-gives"> with its history and settings, while the application runs</span>
      </p>
    </div>
  );
}
