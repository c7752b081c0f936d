// One browser at a time: two cores carry one page, one server and one driver.
[assembly: CollectionBehavior(DisableTestParallelization = true)]
