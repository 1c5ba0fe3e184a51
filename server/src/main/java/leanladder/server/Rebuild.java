package leanladder.server;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.DigestOutputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.HexFormat;
import java.util.List;
import java.util.UUID;
import leanladder.store.Replay;
import leanladder.store.Store;
import leanladder.store.db.Database;

/**
 * Builds the present again from the journal alone, in a database of its own beside the one that is used, and compares the two: the
 * estate that each would write out, byte for byte.
 */
public final class Rebuild {
    private Rebuild() {}

    /** @param args the file with the JDBC address, user and password, one a line */
    public static void main(String[] args) {
        try {
            if (!rebuild(args)) System.exit(1);
        } catch (IOException | SQLException | RuntimeException failure) {
            boolean away = Database.isAway(failure);
            System.err.println(
                    away
                            ? "The database does not answer; start Lean Ladder with ./ladder up first. Nothing was changed."
                            : "The journal could not be carried out again: " + failure.getMessage()
                                    + " Nothing was changed.");
            System.exit(1);
        }
    }

    private static boolean rebuild(String[] args) throws IOException, SQLException {
        List<String> lines = Files.readAllLines(Path.of(args[0]));
        String url = lines.get(0);
        String user = lines.get(1);
        String password = lines.get(2);
        String beside = "rebuilt_" + UUID.randomUUID().toString().replace("-", "");
        execute(url, user, password, "create database " + beside);
        boolean same;
        try (Store from = new Store(url, user, password);
                Store to = new Store(url.replaceFirst("/[^/]*$", "/" + beside), user, password)) {
            long changes = Replay.all(from, to);
            same = print(from, changes).equals(print(to, changes));
            System.out.println(
                    same
                            ? "The present is what the journal says: " + changes
                                    + " changes, carried out again, give the same estate."
                            : "The present is NOT what the journal says: " + changes
                                    + " changes, carried out again, give another estate. Make a backup of both before anything else.");
        } finally {
            execute(url, user, password, "drop database " + beside);
        }
        return same;
    }

    private static void execute(String url, String user, String password, String statement) throws SQLException {
        try (Connection connection = DriverManager.getConnection(url, user, password);
                Statement on = connection.createStatement()) {
            on.execute(statement);
        }
    }

    /** What tells the estate after a change from others. */
    private static String print(Store store, long change) throws IOException {
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            store.parts().export(new DigestOutputStream(OutputStream.nullOutputStream(), digest), change);
            return HexFormat.of().formatHex(digest.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
