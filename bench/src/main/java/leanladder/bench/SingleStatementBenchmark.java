package leanladder.bench;

import java.io.IOException;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.estate.Unit;
import leanladder.estate.read.InvalidEstateException;
import leanladder.reach.Directory;
import leanladder.store.ThrowAwayPostgres;

/** A yardstick: the one set-based SQL statement that a user would write, over the plain mix, without exceptions or gates. */
final class SingleStatementBenchmark {
    private static final String SOLVED = """
            select count(*) from (
              select distinct on (r.account, s.setting) r.account, s.setting, s.value
              from (select account, policy, max(rung) as rung from (
                      select m.account, t.policy, 1000 as rung from target t join member m on t.kind = 'group' and m.grp = t.id
                      union all select a.id, t.policy, u.depth from target t join above u on t.kind = 'unit' and u.above = t.id
                                join account a on a.unit = u.unit
                      union all select t.id, t.policy, 2000 from target t where t.kind = 'account') way
                    group by account, policy) r
              join said s on s.policy = r.policy
              order by r.account, s.setting, r.rung desc, s.rank) solved""";

    private SingleStatementBenchmark() {}

    /** Seconds that the statement takes at 10,000 accounts; the tables are filled and analysed before. */
    static double seconds() throws IOException, InvalidEstateException {
        Estate estate =
                new SyntheticEstate(10_000, false).read(entityRecord -> {}).estate();
        ThrowAwayPostgres postgres = ThrowAwayPostgres.get();
        try (Connection db = DriverManager.getConnection(
                postgres.newDatabase("one_statement"), postgres.user(), postgres.password())) {
            fill(db, estate, new Directory(estate));
            long start = System.nanoTime();
            try (Statement statement = db.createStatement()) {
                statement.executeQuery(SOLVED).next();
            }
            return (System.nanoTime() - start) / 1e9;
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }

    private static void fill(Connection db, Estate estate, Directory directory) throws SQLException {
        try (Statement statement = db.createStatement()) {
            statement.execute("create table account (id text, unit text); create table member (grp text, account text);"
                    + "create table above (unit text, above text, depth int); create table target (policy text, kind text, id text);"
                    + "create table said (policy text, setting text, rank int, value text)");
        }
        db.setAutoCommit(false);
        try (PreparedStatement account = db.prepareStatement("insert into account values (?, ?)");
                PreparedStatement member = db.prepareStatement("insert into member values (?, ?)");
                PreparedStatement above = db.prepareStatement("insert into above values (?, ?, ?)");
                PreparedStatement target = db.prepareStatement("insert into target values (?, ?, ?)");
                PreparedStatement said = db.prepareStatement("insert into said values (?, ?, ?, ?)")) {
            for (Account a : estate.accounts()) if (a.active()) add(account, a.id(), a.unit());
            for (var group : estate.groups())
                directory
                        .members(group.id())
                        .forEach((int n) ->
                                add(member, group.id(), directory.account(n).id()));
            for (Unit unit : estate.units()) {
                var path = directory.tree().path(unit.id());
                for (int i = 0; i < path.size(); i++)
                    add(above, unit.id(), path.get(i).id(), i);
            }
            for (Policy policy : estate.policies()) {
                for (Assignment a : policy.assignments())
                    if (a.include()) target(target, policy, a.target(), directory);
                policy.statements()
                        .forEach(s -> add(
                                said,
                                policy.id(),
                                s.setting(),
                                estate.rankOf(policy.id()),
                                s.value().toString()));
            }
            for (PreparedStatement filled : new PreparedStatement[] {account, member, above, target, said})
                filled.executeBatch();
        }
        db.commit();
        db.setAutoCommit(true);
        try (Statement statement = db.createStatement()) {
            statement.execute(
                    "create index on member (grp); create index on account (unit); create index on above (above);"
                            + "create index on said (policy); analyze; set work_mem = '512MB'");
        }
    }

    private static void target(PreparedStatement into, Policy policy, Target target, Directory directory) {
        if (target instanceof Target.OrganisationTarget)
            add(into, policy.id(), "unit", directory.tree().root());
        else
            add(
                    into,
                    policy.id(),
                    target.text().split(":")[0],
                    target.text().substring(target.text().indexOf(':') + 1));
    }

    private static void add(PreparedStatement into, Object... values) {
        try {
            for (int i = 0; i < values.length; i++) into.setObject(i + 1, values[i]);
            into.addBatch();
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }
}
