"""Long work: one row a job in MariaDB, a queue, kinds of work, a broker.

The row is the truth: written in the transaction of what asked for it, sent after commit, sent again by the beat when the broker lost it or when its
heartbeat has stood still, unique by build, name and digest. One dear job at a time runs for each person and twelve may wait; a job has a time and a
memory budget after which its child process is ended and the page says so; one that kills its worker twice is given up, unless it got further in
between and goes on where it stopped. All ages are told by the database's clock. Without the broker everything else goes on and what needs a job
says "later".
"""
